import { useState } from 'react';
import { ApiProblem } from '../api/client';
import { refreshClass } from '../api/queries';

/** One thing sent at a time: what went wrong stays beside it, and afterwards the class is read again. */
export function useAction(classId: string) {
  const [error, setError] = useState<Error>();
  const [busy, setBusy] = useState(false);
  const run = async (send: () => Promise<unknown>): Promise<boolean> => {
    setBusy(true);
    setError(undefined);
    try {
      await send();
      // It is done, whether or not it can be read back at once.
      await refreshClass(classId).catch(() => undefined);
      return true;
    } catch (reason) {
      setError(reason instanceof Error ? reason : new Error(String(reason)));
      return false;
    } finally {
      setBusy(false);
    }
  };
  const fields = error instanceof ApiProblem ? error.fields : new Map<string, string>();
  return {
    run,
    busy,
    problemOf: (field: string) => fields.get(field),
    /** Everything that went wrong, in one text. */
    error: error && (fields.size > 0 ? [...fields.values()].join(' ') : error.message),
    clear: () => setError(undefined),
  };
}
