import { useState, type SyntheticEvent } from 'react';
import { ApiProblem } from '../api/client';

/** A form that keeps what was typed, sends once at a time, and puts what is wrong beside its field. */
export function useForm<T extends Record<string, string>>(
  initial: T,
  /** Sends the values; may set some of them for the next time. */
  send: (values: T, set: (change: Partial<T>) => void) => Promise<void>,
) {
  const [values, setValues] = useState(initial);
  const [error, setError] = useState<Error>();
  const [sending, setSending] = useState(false);
  const fields = error instanceof ApiProblem ? error.fields : new Map<string, string>();

  const submit = async () => {
    setSending(true);
    setError(undefined);
    try {
      await send(values, (change) => setValues((all) => ({ ...all, ...change })));
    } catch (reason) {
      setError(reason instanceof Error ? reason : new Error(String(reason)));
    } finally {
      setSending(false);
    }
  };
  return {
    values,
    sending,
    /** What is wrong with the whole; what is wrong with one field stands beside it. */
    error: error && fields.size === 0 ? error.message : undefined,
    problemOf: (field: string) => fields.get(field),
    onSubmit: (event: SyntheticEvent) => {
      event.preventDefault();
      if (!sending) void submit();
    },
    /** Everything a text field of that name needs. */
    field: (key: keyof T & string) => ({
      name: key,
      value: values[key],
      error: fields.has(key),
      helperText: fields.get(key),
      onChange: (event: { target: { value: string } }) =>
        setValues((all) => ({ ...all, [key]: event.target.value })),
    }),
  };
}
