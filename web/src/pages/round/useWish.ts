import { useMemo, useState } from 'react';
import type { RoundKit, Scan, Strand } from '../../api/client';
import type { ChairLook } from './RowsLine';
import { planOf, present, sameScan, scansWorth, type Wish } from './walk';

/** What a tap on a chair says. */
export type Tapping = 'absent' | 'pin' | 'out';

function toggled(set: ReadonlySet<string>, key: string): ReadonlySet<string> {
  const next = new Set(set);
  if (!next.delete(key)) next.add(key);
  return next;
}

/** Looks from afar that would spare time in a part of the class, with the seconds they take and spare. */
function useWorthwhile(kit: RoundKit, absent: ReadonlySet<string>, part?: string, strand?: Strand) {
  const worth = useMemo(() => scansWorth(kit, absent), [kit, absent]);
  const inPart = new Set(present(kit, part, new Set()));
  return kit.scans.flatMap((scan, index) => {
    const { seconds = 0, saves = 0 } = worth[index] ?? {};
    const counts =
      scan.part !== '' &&
      scan.resolves.some((child) => inPart.has(child)) &&
      (!strand || scan.strand === strand) &&
      saves > 0;
    return counts ? [{ ...scan, seconds, saves }] : [];
  });
}

/** What a round is wished to be, chosen step by step, and the plan that follows. */
export function useWish(kit: RoundKit) {
  const [minutes, setMinutes] = useState(kit.minutes);
  const [part, setPart] = useState<string>();
  const [strand, setStrand] = useState<Strand>();
  const [absent, setAbsent] = useState<ReadonlySet<string>>(new Set());
  const [pins, setPins] = useState<ReadonlySet<string>>(new Set());
  const [out, setOut] = useState<ReadonlySet<string>>(new Set());
  const [left, setLeft] = useState<readonly Scan[]>([]);
  const [tapping, setTapping] = useState<Tapping>('absent');
  const worthwhile = useWorthwhile(kit, absent, part, strand);
  const scans = worthwhile.filter((scan) => !left.some((other) => sameScan(other, scan)));
  const wish: Wish = {
    minutes,
    ...(part !== undefined && { part }),
    ...(strand !== undefined && { strand }),
    scans: scans.map(({ target, part: where }) => ({ target, part: where })),
  };
  const plan = planOf(kit, { ...wish, seconds: minutes * 60, absent, pins, done: out });

  const look = (child: string): ChairLook => {
    const index = plan.stops.findIndex((stop) => stop.child === child);
    if (absent.has(child)) return { className: 'away', words: 'absent', pressed: tapping === 'absent' };
    if (out.has(child))
      return { className: '', below: 'left out', words: 'left out', pressed: tapping === 'out' };
    const pinned = pins.has(child) ? ', pinned' : '';
    const words = index >= 0 ? `stop ${index + 1}${pinned}` : `not in this round${pinned}`;
    return {
      className: index >= 0 ? 'lit' : '',
      below: [index >= 0 ? String(index + 1) : '', pins.has(child) ? 'pin' : ''].filter(Boolean).join(' · '),
      words,
      pressed: tapping === 'pin' && pins.has(child),
    };
  };
  const tap = (child: string) => {
    if (tapping === 'absent') setAbsent(toggled(absent, child));
    else if (tapping === 'pin') setPins(toggled(pins, child));
    else setOut(toggled(out, child));
  };
  return {
    kit,
    wish,
    plan,
    absent,
    pins,
    worthwhile,
    scans,
    tapping,
    look,
    tap,
    setMinutes,
    setPart,
    setStrand,
    setTapping,
    pin: (key: string) => setPins(toggled(pins, key)),
    /** Whether a look from afar is taken. */
    take: (scan: Scan, taken: boolean) =>
      setLeft(taken ? left.filter((other) => !sameScan(other, scan)) : [...left, scan]),
  };
}

export type RoundWish = ReturnType<typeof useWish>;
