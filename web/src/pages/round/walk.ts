import type {
  Check,
  NewObservation,
  RoundChild,
  RoundEvent,
  RoundKit,
  RoundObservation,
} from '../../api/client';
import { ask, type Answer, type Question } from '../../core/door';

/*
 * A round as its page reads it. The rules are the core's; here its answers get the shapes that a page asks quickly, and the
 * class is handed over without the words that no rule reads.
 */

type Now = NonNullable<Answer<'roundNow'>['state']>;
/** What a plan is asked for; what is not named is nothing. */
export type Asked = Partial<Omit<Question<'planRound'>['asked'], 'absent' | 'pins' | 'done'>> & {
  absent: ReadonlySet<string>;
  /** Children, or `child target` for one check. */
  pins?: ReadonlySet<string>;
  /** Visited already, or looked after otherwise. */
  done?: ReadonlySet<string>;
};
export type RoundPlan = Answer<'planRound'>;
export type ScanKey = Now['scans'][number];

/** A visit that is planned. */
export interface Stop {
  child: string;
  checks: string[];
}

/** What a round was asked for. */
export type Wish = Pick<Now, 'minutes' | 'part' | 'strand' | 'scans'>;

/** How a round stands, from everything that happened in it. */
export interface RoundState extends Omit<Now, 'visited' | 'skipped' | 'absent' | 'takenBy' | 'walkers'> {
  /** Children who were visited, with the device and what stood there before. */
  visited: ReadonlyMap<string, Now['visited'][string]>;
  skipped: ReadonlySet<string>;
  absent: ReadonlySet<string>;
  /** Whose device goes to whom. */
  takenBy: ReadonlyMap<string, string>;
  walkers: ReadonlySet<string>;
  /** The stops that wait for this device. */
  todo: Stop[];
}

export const sameScan = (a: ScanKey, b: ScanKey): boolean => a.target === b.target && a.part === b.part;

/** The round begun last, whatever order its events came in and however often; none where none was begun. */
export function foldRound(events: RoundEvent[], device: string): RoundState | undefined {
  const { state, todo } = ask('roundNow', { events, device });
  if (!state) return undefined;
  return {
    ...state,
    visited: new Map(Object.entries(state.visited)),
    skipped: new Set(state.skipped),
    absent: new Set(state.absent),
    takenBy: new Map(Object.entries(state.takenBy)),
    walkers: new Set(state.walkers),
    todo,
  };
}

/** The observations of a round that count: what was taken back is gone, the latest of a child and target stands last. */
export function observationsInForce(
  known: RoundObservation[],
  onTheirWay: NewObservation[],
  round: string,
): RoundObservation[] {
  return ask('roundObservations', { round, known, onTheirWay }).observations;
}

type ClassToWalk = Question<'planRound'>['class'];
const handedOver = new WeakMap<RoundKit, ClassToWalk>();

/** The class as the core reads it. */
function classOf(kit: RoundKit): ClassToWalk {
  const known = handedOver.get(kit);
  if (known) return known;
  const checks = (all: Check[]) =>
    all.map(({ target, strand, seconds, points }) => ({ target, strand, seconds, points }));
  const made: ClassToWalk = {
    visitSeconds: kit.visitSeconds,
    maxChecksPerChild: kit.maxChecksPerChild,
    mustSeeAfterMeetings: kit.mustSeeAfterMeetings,
    parts: kit.parts.map(({ key, children }) => ({ key, children })),
    children: kit.children.map((child) => ({
      id: child.id,
      seatOrder: child.seatOrder,
      meetingsUnseen: child.meetingsUnseen,
      visitPoints: child.visitPoints,
      checks: checks(child.checks),
      closeUp: checks(child.closeUp),
    })),
    scans: kit.scans.map(({ target, part, strand, resolves }) => ({ target, part, strand, resolves })),
  };
  handedOver.set(kit, made);
  return made;
}

/** Whom to visit and what to look at: the plan of the server, made here. */
export function planOf(kit: RoundKit, { absent, pins, done, ...asked }: Asked): RoundPlan {
  const pinned = [...(pins ?? [])].map((pin) => {
    const [child = '', target] = pin.split(' ');
    return { child, ...(target !== undefined && { target }) };
  });
  const sets = { absent: [...absent], pins: pinned, done: [...(done ?? [])] };
  return ask('planRound', { class: classOf(kit), asked: { seconds: 0, scans: [], ...asked, ...sets } });
}

/** Seconds that each look from afar of the kit takes and spares with those who are here, then those of `more`. */
export function scansWorth(kit: RoundKit, absent: ReadonlySet<string>, more: ScanKey[] = []) {
  return ask('scans', { class: classOf(kit), absent: [...absent], more }).scans;
}

/** Seconds that a walk was planned to take: its stops and its looks from afar. */
export function plannedSeconds(kit: RoundKit, state: RoundState): number {
  const stops = state.stops.filter(({ waits }) => waits).map(({ child, checks }) => ({ child, checks }));
  const toDo = state.scans.filter((one) => !state.scanned.some((other) => sameScan(one, other)));
  const scans = scansWorth(kit, state.absent, toDo).slice(kit.scans.length);
  const visits = ask('stopSeconds', { class: classOf(kit), stops }).seconds;
  return [...visits, ...scans.map(({ seconds }) => seconds)].reduce((sum, seconds) => sum + seconds, 0);
}

/** The stops with a child added by hand, in its place along the walk. */
export function withStop(kit: RoundKit, stops: Stop[], child: string): Stop[] {
  return ask('withStop', { class: classOf(kit), stops: bare(stops), child }).stops.map(withChecks);
}

/** The stops with those who were tapped in a scan: they get that look close up. */
export function withCloseUp(kit: RoundKit, stops: Stop[], tapped: string[], target: string): Stop[] {
  const question = { class: classOf(kit), stops: bare(stops), tapped, target };
  return ask('withCloseUp', question).stops.map(withChecks);
}

const withChecks = ({ child, checks = [] }: { child: string; checks?: string[] }): Stop => ({
  child,
  checks,
});

/** Stops as they are written down: whom, and what is looked at there. */
export function bare(stops: Stop[]): Stop[] {
  return stops.map(withChecks);
}

/** Those of a row or section who are here. */
export function present(kit: RoundKit, part: string | undefined, absent: ReadonlySet<string>): string[] {
  const all =
    part === undefined
      ? kit.children.map(({ id }) => id)
      : kit.parts.find(({ key }) => key === part)?.children;
  return (all ?? []).filter((id) => !absent.has(id));
}

export function childOf(kit: RoundKit, id: string): RoundChild | undefined {
  return kit.children.find((child) => child.id === id);
}

/** What can be looked at in a child: what is open or due, and what can be seen close up. */
export function lookIn({ checks, closeUp }: RoundChild, target: string): Check | undefined {
  return [...checks, ...closeUp].find((check) => check.target === target);
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
