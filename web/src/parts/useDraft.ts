import { useState } from 'react';

/**
 * What somebody makes of a document. While nothing is changed it follows what others keep; once something is changed it stays, with
 * the version that the change is based on, whatever others keep meanwhile.
 */
export function useDraft<T>(kept: T, version: string | undefined) {
  // `own`: an earlier state of it was just saved, so that it is based on whatever is read next.
  const [draft, setDraft] = useState<{ value: T; basedOn: string | undefined; own?: boolean }>();
  const basedOn = draft && !draft.own ? draft.basedOn : version;
  return {
    value: draft ? draft.value : kept,
    /** The version that is changed; absent: there was none. */
    basedOn,
    changed: draft !== undefined,
    change: (value: T) =>
      setDraft((before) => ({ value, basedOn: before && !before.own ? before.basedOn : version })),
    /** This was saved: it shows as it is kept. What was changed while it was on its way stays. */
    saved: (value: T) =>
      setDraft((before) => (before && before.value !== value ? { ...before, own: true } : undefined)),
    /** What is kept shows again. */
    drop: () => setDraft(undefined),
  };
}
