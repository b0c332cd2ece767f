import { useRef, useState } from 'react';
import { v7 as uuid } from 'uuid';
import { asError, sendFile } from '../api/client';
import { refreshClass } from '../api/queries';

/** A file on its way through preview and agreement; stopping it stores nothing. */
export function useImport<T extends { digest: string }>(classId: string, path: string) {
  const [file, setFile] = useState<File>();
  const [preview, setPreview] = useState<T>();
  const [error, setError] = useState<Error>();
  const [busy, setBusy] = useState(false);
  const [read, setRead] = useState<number>();
  const under = useRef<AbortController | undefined>(undefined);
  // Of the file that was chosen: agreed to once, however often it is sent.
  const [id, setId] = useState(() => uuid());

  const send = async (sent: File, query: Record<string, string>): Promise<T | undefined> => {
    under.current?.abort();
    const controller = new AbortController();
    under.current = controller;
    setBusy(true);
    setRead(undefined);
    setError(undefined);
    try {
      const onRead = (share: number) => {
        if (under.current === controller) setRead(share);
      };
      return await sendFile<T>(`/api/classes/${classId}/${path}`, query, sent, controller.signal, onRead);
    } catch (reason) {
      if (!controller.signal.aborted) setError(asError(reason));
      return undefined;
    } finally {
      if (under.current === controller) setBusy(false);
    }
  };
  return {
    file,
    preview,
    error,
    busy,
    /** The share of the file that the server has read, once it says so. */
    read,
    stop: () => {
      under.current?.abort();
      setBusy(false);
    },
    look: async (next: File, query: Record<string, string> = {}) => {
      setFile(next);
      if (next !== file) {
        setPreview(undefined);
        setId(uuid());
      }
      const seen = await send(next, query);
      if (seen) setPreview(seen);
    },
    agree: async (query: Record<string, string> = {}): Promise<T | undefined> => {
      if (!file || !preview) return undefined;
      const done = await send(file, { ...query, digest: preview.digest, import: id });
      // The next one from this page is another.
      if (done) setId(uuid());
      if (done) await refreshClass(classId);
      return done;
    },
  };
}
