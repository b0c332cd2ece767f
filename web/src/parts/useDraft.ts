import { useState } from 'react';

/**
 * What somebody makes of a document. While nothing is changed it follows what others keep; once something is changed it stays, with
 * the version that the change is based on, whatever others keep meanwhile.
 */
export function useDraft<T>(kept: T, version: string | undefined) {
  const [draft, setDraft] = useState<{ value: T; basedOn: string | undefined }>();
  return {
    value: draft ? draft.value : kept,
    /** The version that is changed; absent: there was none. */
    basedOn: draft ? draft.basedOn : version,
    changed: draft !== undefined,
    change: (value: T) => setDraft((before) => ({ value, basedOn: before ? before.basedOn : version })),
    /** What is kept shows again. */
    drop: () => setDraft(undefined),
  };
}
