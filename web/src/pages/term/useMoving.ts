import { useRef, useState } from 'react';
import { api, asError, unwrap } from '../../api/client';
import { refreshClass } from '../../api/queries';

/** Children moved to another class one after the other: what is done stays done, the rest can be stopped and taken up again. */
export function useMoving(classId: string) {
  const [all, setAll] = useState(0);
  const [moved, setMoved] = useState(0);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string>();
  const running = useRef<AbortController>(undefined);
  const move = async (children: string[], to: string) => {
    const here = new AbortController();
    running.current = here;
    setAll(children.length);
    setMoved(0);
    setError(undefined);
    setBusy(true);
    try {
      for (const child of children) {
        if (here.signal.aborted) break;
        const path = { class: classId, child };
        await unwrap(
          api.POST('/api/classes/{class}/children/{child}/membership', {
            params: { path },
            body: { class: to },
          }),
        );
        setMoved((before) => before + 1);
      }
    } catch (problem) {
      setError(`${asError(problem).message} Those who were moved are there; the others are still here.`);
    }
    await refreshClass(classId).catch(() => undefined);
    setBusy(false);
  };
  const stop = () => {
    running.current?.abort();
  };
  return { all, moved, busy, error, move, stop };
}
