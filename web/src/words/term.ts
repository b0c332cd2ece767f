import type { Schemas } from '../api/client';
import { dayWords, weekdayWords } from './dates';
import { count, listed } from './text';

type Term = Schemas['TermView'];
type Group = Schemas['KeptGroup'];
type Waits = Schemas['WaitsView'];

/** A share of one as people read it: `38 %`. */
export function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** So many names, and how many more there are. */
const NAMED = 6;

/** `Amara O., Chiyo N. and 3 more`. */
export function namesWords(names: readonly string[]): string {
  if (names.length <= NAMED) return listed(names);
  return `${names.slice(0, NAMED).join(', ')} and ${names.length - NAMED} more`;
}

/** How long looks waited: `1.9 meetings on the mean, 6 at the longest`. */
export function waitWords({ mean, longest }: Waits): string {
  if (mean === undefined) return `nobody has looked yet, ${count(longest, 'meeting')}`;
  return `${mean.toFixed(1)} meetings on the mean, ${longest} at the longest`;
}

/** What became of a group, in a word or two. */
export const VERDICTS: Record<string, string> = {
  tooEarly: 'Too early to say',
  helped: 'Helped',
  asOthers: 'No more than without it',
  notYet: 'Not yet',
};

/** What the verdict on a group rests on. */
export function groupWords(group: Group): string {
  const looked = group.children.filter((child) => child.looked).length;
  const further = group.children.filter((child) => child.further).length;
  if (group.verdict === 'tooEarly')
    return `${looked} of ${count(group.children.length, 'child', 'children')} looked at again since it began.`;
  const own = `${further} of ${looked} came further since ${dayWords(group.began)}`;
  if (group.othersLooked === 0) return `${own}; there is nobody to compare with.`;
  return `${own}; of ${count(group.othersLooked, 'other')} who stood there too, ${group.othersFurther} did.`;
}

/** One line on what happened at a meeting. */
export interface Happened {
  what: string;
  who: string;
}

/** What happened at a meeting, and in the days after it. */
export function happenedAt(term: Term, meeting: number): Happened[] {
  const then = term.meetings.find((one) => one.meeting === meeting);
  if (!then) return [];
  const names = new Map(term.children.map(({ child }) => [child.id, child.name]));
  const named = (ids: string[]) => namesWords(ids.flatMap((id) => names.get(id) ?? []));
  const reached = term.stages.flatMap((stage) => {
    const there = term.children.filter((child) =>
      child.reached.some((at) => at.stage === stage.id && at.meeting === meeting),
    );
    return there.length > 0
      ? [{ what: `Reached: ${stage.name}`, who: named(there.map(({ child }) => child.id)) }]
      : [];
  });
  const slips = (word: string, is: (time: Schemas['SlipTime']) => boolean) =>
    term.slips.flatMap((slip) => {
      const these = slip.times.filter(is).map(({ child }) => child);
      return these.length > 0 ? [{ what: `${word}: ${slip.name}`, who: named([...new Set(these)]) }] : [];
    });
  const changes = term.children.flatMap(({ child, changes: all }) =>
    all
      .filter((change) => change.meeting === meeting)
      .map(({ from, to }) => ({ what: `From ${from} to ${to}`, who: child.name })),
  );
  return [
    ...changes,
    ...reached,
    ...slips('Seen first', ({ from }) => from === meeting),
    ...slips('Gone', ({ until }) => until === meeting),
    ...markerWords(then.markers),
  ];
}

function markerWords({ laid, proved, thinned }: Schemas['MarkersWorked']): Happened[] {
  const on = (number: number, what: string) =>
    number > 0 ? [{ what, who: count(number, 'instrument') }] : [];
  return [
    ...on(laid, 'Markers laid'),
    ...on(proved, 'Markers proved by ear'),
    ...on(thinned, 'Markers thinned'),
  ];
}

/** `Thu 26 Nov: 33 of 36 children visited, 47 minutes of looking`. */
export function meetingWords({ day, visited, children, minutes }: Schemas['MeetingThen']): string {
  const looking =
    minutes > 0 ? `${count(Math.max(1, Math.round(minutes)), 'minute')} of looking` : 'nobody looked';
  return `${weekdayWords(day)}: ${visited} of ${count(children, 'child', 'children')} visited, ${looking}`;
}

/** `2 to 6 Nov, Autumn holiday`. */
export function holidayWords({ first, last, reason }: Schemas['Holiday']): string {
  const days = first === last ? dayWords(first) : `${dayWords(first)} to ${dayWords(last)}`;
  return reason ? `${reason}, ${days}` : `No meeting, ${days}`;
}

/** What came beside what was said, in a word or two. */
export const FITS: Record<string, string> = {
  earlier: 'earlier than said',
  within: 'as said',
  later: 'later than said',
  open: 'still open',
};
