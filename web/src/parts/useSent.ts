import { useMutation } from '@tanstack/react-query';
import { ApiProblem, asError } from '../api/client';

/** One thing sent at a time: what went wrong stays beside it, and afterwards what follows from it is read again. */
export function useSent(readAgain: () => Promise<unknown>) {
  const { mutateAsync, isPending, error, reset } = useMutation({
    mutationFn: (send: () => Promise<unknown>) => send(),
    // It is done, whether or not it can be read back at once.
    onSuccess: () => readAgain().catch(() => undefined),
  });
  const problem = error && asError(error);
  const fields = problem instanceof ApiProblem ? problem.fields : new Map<string, string>();
  const conflict = problem instanceof ApiProblem ? problem.present : undefined;
  return {
    /** Whether it was done. */
    run: (send: () => Promise<unknown>): Promise<boolean> =>
      mutateAsync(send).then(
        () => true,
        () => false,
      ),
    busy: isPending,
    problemOf: (field: string) => fields.get(field),
    /** Everything that went wrong, in one text. */
    error:
      problem && !conflict ? (fields.size > 0 ? [...fields.values()].join(' ') : problem.message) : undefined,
    /** What is there now, where somebody else saved the same meanwhile. */
    conflict,
    clear: reset,
  };
}
