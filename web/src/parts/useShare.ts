import useMediaQuery from '@mui/material/useMediaQuery';
import { useEffect, useState } from 'react';

const LONG = 900;

/** Whether whoever looks prefers that nothing moves. */
export function useStill(): boolean {
  return useMediaQuery('(prefers-reduced-motion: reduce)');
}

/** Slow at both ends. */
const eased = (share: number) => share * share * (3 - 2 * share);

/**
 * How far on its way a drawing is, 0 to 1: it sets out after `wait` milliseconds each time `key` changes. Nothing moves where that
 * is preferred, or while `on` is false.
 */
export function useShare(key: unknown, on: boolean, wait = 0): number {
  const still = useStill();
  const moves = on && !still;
  const [share, setShare] = useState({ key, at: 0 });
  useEffect(() => {
    if (!moves) return;
    let frame = 0;
    let begin: number | undefined;
    const step = (now: number) => {
      begin ??= now + wait;
      const at = Math.min(Math.max((now - begin) / LONG, 0), 1);
      setShare({ key, at: eased(at) });
      if (at < 1) frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [key, moves, wait]);
  if (!moves) return 1;
  return share.key === key ? share.at : 0;
}
