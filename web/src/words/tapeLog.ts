import type { Schemas } from '../api/client';
import { BY_MICROPHONE } from './listening';
import { fingerWords, markerName } from './markers';
import { count } from './text';

/* What was done to an instrument's markers, and what was seen of them in class. */

type TapeWork = Schemas['TapeWork'];
type Heard = Schemas['Heard'];

const ALIGNED: Record<Schemas['Align'], string> = {
  nutEdge: 'nut side on the line',
  middle: 'middle on the line',
  bridgeEdge: 'bridge side on the line',
};

const PROOFS: Record<Schemas['Proof'], string> = {
  openString: 'against an open string',
  step: 'by steps from a proved marker',
  tone: 'against a reference tone',
  tuner: 'with a tuner',
};

function signed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return Number(text) === 0 ? text : `${value < 0 ? '−' : '+'}${text}`;
}

function heardWords(heard: Heard): string {
  return typeof heard === 'string' ? heard : `${signed(heard.cents, 0)} cents`;
}

const listed = (spots: readonly string[]) => spots.map(markerName).join(', ');

/** What was done, in a line; lengths by `length`, which knows the unit. */
export function workWords(work: TapeWork, length: (mm: number) => string): string {
  switch (work.kind) {
    case 'measured':
      return `String measured: ${length(work.lengthMm)}`;
    case 'placed': {
      const strips = work.strips;
      const how = strips ? ` (${length(strips.widthMm)} strips, ${ALIGNED[strips.align]})` : '';
      return `Laid: ${listed(work.spots)}${how}`;
    }
    case 'positions': {
      const edges = Object.entries(work.edges).map(
        ([finger, mm]) => `${fingerWords(finger)} at ${length(mm)}`,
      );
      return `Measured: ${edges.join(', ')}`;
    }
    case 'heard':
      return `Heard ${fingerWords(work.finger)} ${heardWords(work.heard)}, ${PROOFS[work.proof]}${work.microphone ? `, ${BY_MICROPHONE}` : ''}`;
    case 'held':
      return 'Still there, still true';
    case 'loose':
      return `Coming off: ${listed(work.spots)}`;
    case 'missing':
      return `Gone: ${listed(work.spots)}`;
    case 'bridge': {
      const by = work.movedMm ?? undefined;
      if (by === undefined) return 'Bridge moved';
      return `Bridge moved by ${length(Math.abs(by))}, ${by < 0 ? 'towards the nut' : 'away from the nut'}`;
    }
    case 'strings':
      return 'New strings';
    case 'thinned':
      return `Taken away: ${listed(work.spots)}`;
    case 'back':
      return `On again: ${listed(work.spots)}`;
    case 'bare':
      return 'Every marker taken away';
    case 'undone':
      return 'Taken back';
  }
}

const SEEN: Record<string, readonly [there: string, not: string]> = {
  'tape.measured': ['string length on record', 'not the instrument on record'],
  'tape.placed': ['markers on', 'markers loose or missing'],
  'tape.heard': ['proved by ear', 'not true by ear'],
  'tape.thinning': ['some taken away, still in tune', 'no longer true'],
  'tape.off': ['none left, in tune', 'no longer true'],
};

/** A look in class, in a line. */
export function lookWords({ target, there }: Schemas['TapeLook']): string {
  const [yes, no] = SEEN[target] ?? ['still there, still true', 'no longer true'];
  return `Seen in class: ${there ? yes : no}`;
}

/** An entry of the log, in a line. */
export function entryWords(
  { work, look }: Pick<Schemas['LogEntry'], 'work' | 'look'>,
  length: (mm: number) => string,
): string {
  if (work) return workWords(work, length);
  return look ? lookWords(look) : '';
}

/** Which marker may go, or what is waited for. */
export function thinningWords(thinning: Schemas['ThinningView']): string {
  const { next, wanting, child = '', landedLooks, wantedLooks } = thinning;
  switch (wanting) {
    case 'marker':
      return 'No marker is on.';
    case 'child':
      return 'Nobody of the class has it.';
    case 'landing':
      return `A marker may go once ${child} lands in tune with eyes away in ${count(wantedLooks, 'look')} at different meetings; so far ${landedLooks}.`;
    case 'ear':
      return 'A marker may go once every marker that is on was heard true.';
    default:
      return `${child} landed in tune with eyes away in the last ${count(landedLooks, 'look')}, and every marker was heard true: marker ${markerName(next ?? '')} may go.`;
  }
}
