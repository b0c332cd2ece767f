import type { RoundPlan, RoundQuestion } from '../api/client';

/*
 * The planner of a round where no server answers: the same as `core::round`, line for line, which says how it works and
 * why. Both are held to the same cases (`planner.cases.json`, written by the server's tests), so that a round planned in a
 * cellar is the round that would have been planned upstairs.
 */

type Child = RoundQuestion['children'][number];
type Reason = RoundPlan['notReached'][number]['reason'];

/** No way to fill exactly so many seconds. */
const NO_WAY = -1;

interface Choices {
  child: Child;
  mustSee: boolean;
  /** How many checks a visit may have. */
  most: number;
  /** The most points of exactly so many seconds, by first check that may be taken, by how many may be taken. */
  best: Float64Array[][];
}

const at = (numbers: Float64Array | undefined, index: number): number => numbers?.[index] ?? NO_WAY;

function choicesOf(question: RoundQuestion, child: Child): Choices | undefined {
  const most = Math.min(question.maxChecksPerChild, child.checks.length);
  const left = question.secondsAvailable - question.visitSeconds;
  if (child.absent || most === 0 || left < 0) return undefined;
  const longest = child.checks.map(({ seconds }) => seconds).sort((a, b) => b - a);
  const span = Math.min(
    longest.slice(0, most).reduce((sum, seconds) => sum + seconds, 0),
    left,
  );
  const nothing = () => {
    const row = new Float64Array(span + 1).fill(NO_WAY);
    row[0] = 0;
    return row;
  };
  let after = Array.from({ length: most + 1 }, nothing);
  const best = [after];
  for (const { seconds, points } of child.checks.toReversed()) {
    const here = after.map((row) => row.slice());
    for (let taken = 1; taken <= most; taken += 1) {
      for (let second = seconds; second <= span; second += 1) {
        const without = at(after[taken - 1], second - seconds);
        const row = here[taken];
        if (row && without !== NO_WAY) row[second] = Math.max(at(row, second), without + points);
      }
    }
    best.push(here);
    after = here;
  }
  return {
    child,
    mustSee: child.meetingsUnseen >= question.mustSeeAfterMeetings,
    most,
    best: best.reverse(),
  };
}

function mostPoints({ child, best, most }: Choices): number {
  return child.visitPoints + Math.max(0, ...(best[0]?.[most] ?? []));
}

/** Seconds and value of the visits worth weighing: none that takes longer for no more. */
function optionsOf(
  choices: Choices,
  visitSeconds: number,
  weight: number,
): [seconds: number, value: number][] {
  const { child, best, most, mustSee } = choices;
  const options: [number, number][] = [];
  best[0]?.[most]?.forEach((points, seconds) => {
    if (seconds === 0 || points === NO_WAY) return;
    const value = child.visitPoints + (mustSee ? weight : 0) + points;
    if ((options.at(-1)?.[1] ?? -1) < value) options.push([visitSeconds + seconds, value]);
  });
  return options;
}

/** The first list of checks, in order, that makes a visit whose value with what follows is `goal`. */
function firstOf(
  { child, best, most, mustSee }: Choices,
  visitSeconds: number,
  weight: number,
  left: number,
  goal: number,
  after: Float64Array,
): number[] | undefined {
  const fits = (seconds: number, points: number) => {
    const rest = left - visitSeconds - seconds;
    return rest >= 0 && child.visitPoints + (mustSee ? weight : 0) + points + at(after, rest) === goal;
  };
  const taken: number[] = [];
  let seconds = 0;
  let points = 0;
  while (taken.length === 0 || !fits(seconds, points)) {
    const may = most - taken.length - 1;
    if (may < 0) return undefined;
    const next = child.checks.findIndex((check, index) => {
      if (index <= (taken.at(-1) ?? -1)) return false;
      const rest = best[index + 1]?.[may];
      return rest?.some(
        (more, later) =>
          more !== NO_WAY && fits(seconds + check.seconds + later, points + check.points + more),
      );
    });
    const check = child.checks[next];
    if (!check) return undefined;
    seconds += check.seconds;
    points += check.points;
    taken.push(next);
  }
  return taken;
}

/** The best plan, as `POST /api/calc/round` would answer. */
export function planRound(question: RoundQuestion): RoundPlan {
  const { visitSeconds, secondsAvailable, mustSeeAfterMeetings } = question;
  const inOrder = question.children.toSorted((a, b) => a.seatOrder - b.seatOrder);
  const choices = inOrder.flatMap((child) => choicesOf(question, child) ?? []);
  const weight = 1 + choices.reduce((sum, one) => sum + mostPoints(one), 0);
  const options = choices.map((one) => optionsOf(one, visitSeconds, weight));
  const longest = options.reduce((sum, list) => sum + (list.at(-1)?.[0] ?? 0), 0);
  const span = Math.min(longest, secondsAvailable);
  const after = [new Float64Array(span + 1)];
  for (const list of options.toReversed()) {
    const next = after.at(-1) ?? new Float64Array(span + 1);
    const here = next.slice();
    for (const [seconds, value] of list) {
      for (let second = seconds; second <= span; second += 1) {
        const sum = at(next, second - seconds) + value;
        if (sum > at(here, second)) here[second] = sum;
      }
    }
    after.push(here);
  }
  after.reverse();
  let left = after[0]?.indexOf(at(after[0], span)) ?? 0;
  const stops = choices.flatMap((one, index) => {
    const goal = at(after[index], left);
    const rest = after[index + 1] ?? new Float64Array(span + 1);
    const taken = firstOf(one, visitSeconds, weight, left, goal, rest);
    if (!taken) return [];
    const checks = taken.flatMap((check) => one.child.checks[check] ?? []);
    const seconds = visitSeconds + checks.reduce((sum, check) => sum + check.seconds, 0);
    left -= seconds;
    return {
      child: one.child.id,
      seatOrder: one.child.seatOrder,
      checks: checks.map(({ checkpoint }) => checkpoint),
      seconds,
      points: one.child.visitPoints + checks.reduce((sum, check) => sum + check.points, 0),
    };
  });
  const visited = new Set(stops.map(({ child }) => child));
  const unvisited = inOrder.filter(({ id }) => !visited.has(id));
  const mustSee = ({ meetingsUnseen }: Child) => meetingsUnseen >= mustSeeAfterMeetings;
  return {
    stops,
    secondsUsed: stops.reduce((sum, stop) => sum + stop.seconds, 0),
    points: stops.reduce((sum, stop) => sum + stop.points, 0),
    mustSeeVisited: inOrder.filter((child) => visited.has(child.id) && mustSee(child)).length,
    mustSeeMissed: unvisited.filter((child) => !child.absent && mustSee(child)).map(({ id }) => id),
    notReached: unvisited.map((child) => ({ child: child.id, reason: whyNot(question, child) })),
  };
}

function whyNot({ visitSeconds, secondsAvailable }: RoundQuestion, child: Child): Reason {
  if (child.absent) return 'absent';
  if (child.checks.length === 0) return 'nothingToLookAt';
  const shortest = Math.min(...child.checks.map(({ seconds }) => seconds));
  return visitSeconds + shortest > secondsAvailable ? 'longerThanTheRound' : 'noTime';
}
