import { useMutation } from '@tanstack/react-query';
import { useState, type SyntheticEvent } from 'react';
import { ApiProblem, asError } from '../api/client';

/** A form that keeps what was typed, sends once at a time, and puts what is wrong beside its field. */
export function useForm<T extends Record<string, string>>(
  initial: T,
  /** Sends the values; may set some of them for the next time. */
  send: (values: T, set: (change: Partial<T>) => void) => Promise<void>,
) {
  const [values, setValues] = useState(initial);
  const { mutate, isPending, error } = useMutation({
    mutationFn: () => send(values, (change) => setValues((all) => ({ ...all, ...change }))),
  });
  const problem = error && asError(error);
  const fields = problem instanceof ApiProblem ? problem.fields : new Map<string, string>();
  return {
    values,
    sending: isPending,
    /** What is wrong with the whole; what is wrong with one field stands beside it. */
    error: problem && fields.size === 0 ? problem.message : undefined,
    problemOf: (field: string) => fields.get(field),
    onSubmit: (event: SyntheticEvent) => {
      event.preventDefault();
      if (!isPending) mutate();
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
