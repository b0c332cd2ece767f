import type {
  Check,
  NewObservation,
  RoundChild,
  RoundEvent,
  RoundKit,
  RoundObservation,
  RoundQuestion,
  Scan,
  Strand,
} from '../../api/client';

/** A visit that is planned. */
export interface Stop {
  child: string;
  checks: string[];
}

/** What a round was asked for. */
export interface Wish {
  minutes: number;
  /** A row or a section; absent: the whole class. */
  part?: string | undefined;
  strand?: Strand | undefined;
  /** Looks from afar that were agreed to. */
  scans: ScanKey[];
}

export interface ScanKey {
  target: string;
  part: string;
}

/** How a round stands, from everything that happened in it. */
export interface RoundState extends Wish {
  id: string;
  startedAt: string;
  stops: Stop[];
  /** Children who were visited, with the device and what stood there before. */
  visited: Map<string, { device: string; before: Record<string, number> }>;
  skipped: Set<string>;
  absent: Set<string>;
  /** Whose device goes to whom. */
  takenBy: Map<string, string>;
  walkers: Set<string>;
  scanned: ScanKey[];
  endedAt?: string;
}

const byTime = (a: { at: string; id: string }, b: { at: string; id: string }) =>
  Date.parse(a.at) - Date.parse(b.at) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

export const sameScan = (a: ScanKey, b: ScanKey): boolean => a.target === b.target && a.part === b.part;

/** The round begun last, whatever order its events came in and however often; none where none was begun. */
export function foldRound(events: readonly RoundEvent[]): RoundState | undefined {
  const inOrder = [...new Map(events.map((event) => [event.id, event])).values()].sort(byTime);
  const start = inOrder.findLast(({ kind }) => kind === 'start');
  if (!start) return undefined;
  const state: RoundState = {
    id: start.round,
    startedAt: start.at,
    minutes: 0,
    scans: [],
    stops: [],
    visited: new Map(),
    skipped: new Set(),
    absent: new Set(),
    takenBy: new Map(),
    walkers: new Set(),
    scanned: [],
  };
  for (const event of inOrder.filter(({ round }) => round === start.round)) apply(state, event);
  return state;
}

function apply(state: RoundState, { kind, device, at, children = [], detail }: RoundEvent): void {
  const given = (detail ?? {}) as Partial<Wish> & Partial<ScanKey> & { before?: Record<string, number> };
  state.walkers.add(device);
  switch (kind) {
    case 'start':
    case 'plan':
      state.stops = children.map(({ child, checks = [] }) => ({ child, checks }));
      state.minutes = given.minutes ?? state.minutes;
      state.scans = given.scans ?? state.scans;
      state.part = given.part ?? state.part;
      state.strand = given.strand ?? state.strand;
      break;
    case 'scan':
      if (given.target !== undefined && given.part !== undefined)
        state.scanned.push({ target: given.target, part: given.part });
      break;
    case 'end':
      state.endedAt = at;
      break;
    case 'take':
    case 'visited':
    case 'skipped':
    case 'absent':
    case 'present':
      for (const { child } of children) applyToChild(state, kind, child, device, given.before ?? {});
  }
}

function applyToChild(
  state: RoundState,
  kind: 'take' | 'visited' | 'skipped' | 'absent' | 'present',
  child: string,
  device: string,
  before: Record<string, number>,
): void {
  if (kind === 'absent') state.absent.add(child);
  if (kind === 'present') state.absent.delete(child);
  if (kind === 'skipped') state.skipped.add(child);
  if (kind === 'take') {
    state.takenBy.set(child, device);
    state.skipped.delete(child);
  }
  // The first visit tells what stood there before.
  if (kind === 'visited' && !state.visited.has(child)) state.visited.set(child, { device, before });
}

/** Whether a stop still waits for somebody. */
export function waits(state: RoundState, { child }: Stop): boolean {
  return !state.visited.has(child) && !state.skipped.has(child) && !state.absent.has(child);
}

/**
 * The stops that wait for this device: those that it has taken, then those that nobody has. Who took the second half begins
 * there, and not at a child whom the other device comes to next.
 */
export function mine(state: RoundState, device: string): Stop[] {
  const waiting = state.stops.filter((stop) => waits(state, stop));
  const takenBy = (who: string | undefined) =>
    waiting.filter(({ child }) => state.takenBy.get(child) === who);
  return [...takenBy(device), ...takenBy(undefined)];
}

/** The observations of a round that count: what was taken back is gone, the latest of a child and target stands last. */
export function observationsInForce(
  known: readonly RoundObservation[],
  onTheirWay: readonly NewObservation[],
  round: string,
): RoundObservation[] {
  const all = new Map<string, RoundObservation>();
  for (const observation of known) if (observation.round === round) all.set(observation.id, observation);
  for (const observation of onTheirWay) {
    if (observation.round !== round) continue;
    const { id, child, target, observedAt, level, slips = [], says, note, retracts } = observation;
    all.set(id, {
      id,
      round,
      child,
      target,
      observedAt,
      slips,
      ...(level != null && { level }),
      ...(says != null && { says }),
      ...(note != null && { note }),
      ...(retracts != null && { retracts }),
    });
  }
  const undone = new Set([...all.values()].map(({ retracts }) => retracts));
  return [...all.values()]
    .filter(({ id, retracts }) => retracts === undefined && !undone.has(id))
    .sort((a, b) => byTime({ at: a.observedAt, id: a.id }, { at: b.observedAt, id: b.id }));
}

/** Those of a row or section who are here. */
export function present(kit: RoundKit, part: string | undefined, absent: ReadonlySet<string>): string[] {
  const all =
    part === undefined
      ? kit.children.map(({ id }) => id)
      : kit.parts.find(({ key }) => key === part)?.children;
  return (all ?? []).filter((id) => !absent.has(id));
}

/** Seconds that a scan takes with those who are here. */
export function scanSeconds(kit: RoundKit, scan: ScanKey, absent: ReadonlySet<string>): number {
  return kit.scanSeconds + kit.scanEach * present(kit, scan.part, absent).length;
}

/** Seconds of looks that a scan spares with those who are here, less its own. */
export function scanSaves(kit: RoundKit, scan: Scan, absent: ReadonlySet<string>): number {
  const saves = scan.resolves
    .filter((child) => !absent.has(child))
    .map((child) => checkOf(kit, child, scan.target)?.seconds ?? 0);
  return saves.reduce((sum, seconds) => sum + seconds, 0) - scanSeconds(kit, scan, absent);
}

export function childOf(kit: RoundKit, id: string): RoundChild | undefined {
  return kit.children.find((child) => child.id === id);
}

export function checkOf(kit: RoundKit, child: string, target: string): Check | undefined {
  const found = childOf(kit, child);
  return found && lookIn(found, target);
}

/** What can be looked at in a child: what is open or due, and what can be seen close up. */
export function lookIn({ checks, closeUp }: RoundChild, target: string): Check | undefined {
  return [...checks, ...closeUp].find((check) => check.target === target);
}

interface Asked extends Wish {
  /** For how long; less than the minutes once some of them are gone. */
  seconds: number;
  absent: ReadonlySet<string>;
  /** Children, or `child target` for one check. */
  pins: ReadonlySet<string>;
  /** Visited already, or looked after otherwise. */
  done?: ReadonlySet<string>;
}

/** What the planner is asked. */
export function questionOf(kit: RoundKit, asked: Asked): RoundQuestion {
  const { seconds, absent, pins, part, strand, scans, done = new Set() } = asked;
  const inPart = new Set(present(kit, part, new Set()));
  const settled = new Set(
    scans.flatMap((scan) => {
      const known = kit.scans.find((one) => sameScan(one, scan));
      return known?.resolves.map((child) => `${child} ${scan.target}`) ?? [];
    }),
  );
  const gone = scans.reduce((sum, scan) => sum + scanSeconds(kit, scan, absent), 0);
  return {
    secondsAvailable: Math.max(0, Math.round(seconds - gone)),
    visitSeconds: kit.visitSeconds,
    maxChecksPerChild: kit.maxChecksPerChild,
    mustSeeAfterMeetings: kit.mustSeeAfterMeetings,
    children: kit.children
      .filter(({ id }) => inPart.has(id) && !done.has(id))
      .map((child) => ({
        id: child.id,
        seatOrder: child.seatOrder,
        absent: absent.has(child.id),
        meetingsUnseen: child.meetingsUnseen,
        visitPoints: child.visitPoints,
        checks: child.checks
          .filter((check) => !strand || check.strand === strand)
          .filter(({ target }) => !settled.has(`${child.id} ${target}`))
          .map(({ target, seconds, points }) => ({
            checkpoint: target,
            seconds,
            points: points + (pins.has(child.id) || pins.has(`${child.id} ${target}`) ? kit.pinPoints : 0),
          })),
      })),
  };
}

/** Seconds that a stop was planned to take. */
export function stopSeconds(kit: RoundKit, { child, checks }: Stop): number {
  const seconds = checks.map((target) => checkOf(kit, child, target)?.seconds ?? 0);
  return kit.visitSeconds + seconds.reduce((sum, one) => sum + one, 0);
}

/** `2:05`. */
export function clock(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

/** `11 min 40 s`. */
export function minutesWords(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const [minutes, rest] = [Math.floor(whole / 60), whole % 60];
  if (minutes === 0) return `${rest} s`;
  return rest === 0 ? `${minutes} min` : `${minutes} min ${rest} s`;
}
