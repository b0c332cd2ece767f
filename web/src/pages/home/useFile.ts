import { useEffect, useRef, useState } from 'react';

interface File {
  /** Whether it is being made. */
  busy: boolean;
  /** Why it could not be had; absent where it could. */
  error: string | undefined;
  /** Has the file at an address made, and hands it to the browser to keep. */
  save: (href: string, name: string) => Promise<void>;
  /** Lets it be. */
  stop: () => void;
}

/** A file that takes a moment to be made, and can be stopped meanwhile. */
export function useFile(): File {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string>();
  const running = useRef<AbortController>(undefined);
  useEffect(() => () => running.current?.abort(), []);
  const save = async (href: string, name: string) => {
    const here = new AbortController();
    running.current?.abort();
    running.current = here;
    setBusy(true);
    setError(undefined);
    try {
      const answer = await fetch(href, { signal: here.signal });
      if (!answer.ok) throw new Error(String(answer.status));
      keep(await answer.blob(), name);
    } catch {
      if (!here.signal.aborted) setError('The file was not made. Look at the connection and tap again.');
    } finally {
      if (running.current === here) setBusy(false);
    }
  };
  return { busy, error, save, stop: () => running.current?.abort() };
}

function keep(blob: Blob, name: string): void {
  const href = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = href;
  link.download = name;
  link.click();
  URL.revokeObjectURL(href);
}
