import type { Place, Schemas, TapeSpot } from '../../api/client';
import { centsWords, count, fingerWords, letterOf, noteWords } from '../../words';

export type ProofKind = Schemas['ProofView'];

/** A way to prove a mark by ear. */
export interface Proof {
  key: string;
  kind: ProofKind;
  /** `3 on D against open G: octave above`. */
  words: string;
  /** Tones to compare, each with what it is. */
  tones: { name: string; hz: number }[];
}

const hzOf = (strings: Schemas['OpenStringView'][], note: string) =>
  strings.find((open) => open.note === note)?.hz ?? 0;

/** `a semitone`, `a whole tone`, `3 semitones`. */
export function stepWords(semitones: number): string {
  const far = Math.abs(semitones);
  if (far === 1) return 'a semitone';
  return far === 2 ? 'a whole tone' : count(far, 'semitone');
}

/** Every way to prove a mark, the nearest comparison first; a step only from a mark that is proved. */
export function proofsOf(
  place: Place,
  places: Place[],
  spots: TapeSpot[],
  strings: Schemas['OpenStringView'][],
): Proof[] {
  const name = spots.find(({ spot }) => spot === place.finger)?.name ?? place.finger;
  const against = place.earChecks.map((check): Proof => {
    const stopped = place.notes.find((note) => note.string === check.string);
    return {
      key: `${check.string}-${check.openString}`,
      kind: 'openString',
      words: `${name} on ${letterOf(check.string)} is ${noteWords(check.note)}: ${check.relation === 'unison' ? 'the same as' : check.relation} open ${letterOf(check.openString)}${check.allowCents > 0 ? `, ${count(check.allowCents, 'cent')} more allowed` : ''}`,
      tones: [
        { name: `open ${letterOf(check.openString)}`, hz: hzOf(strings, check.openString) },
        { name: noteWords(check.note), hz: stopped?.hz ?? 0 },
      ],
    };
  });
  const middle = place.notes[Math.floor(place.notes.length / 2)];
  const steps = placesToStepFrom(place, places, spots).map(({ from, semitones }): Proof => {
    const start = from.notes.find((note) => note.string === middle?.string);
    return {
      key: `step-${from.finger}`,
      kind: 'step',
      words: `${stepWords(semitones)} ${semitones < 0 ? 'below' : 'above'} mark ${fingerWords(from.finger)}, which is proved`,
      tones: [
        { name: `mark ${fingerWords(from.finger)}`, hz: start?.hz ?? 0 },
        { name: noteWords(middle?.note ?? ''), hz: middle?.hz ?? 0 },
      ],
    };
  });
  const tones = place.notes.map(({ note, hz }) => ({ name: noteWords(note), hz }));
  return [
    ...against,
    ...steps,
    { key: 'tone', kind: 'tone', words: 'against a reference tone on any string', tones },
    { key: 'tuner', kind: 'tuner', words: 'with a tuner: how many cents off', tones: [] },
  ];
}

/** Where a mark has no open string to compare with: the marks that are proved, the nearest first. */
function placesToStepFrom(place: Place, places: Place[], spots: TapeSpot[]) {
  if (place.earChecks.length > 0) return [];
  return places
    .filter(({ finger, semitones }) => {
      const spot = spots.find((one) => one.spot === finger);
      return finger !== place.finger && semitones !== place.semitones && spot?.proved === true;
    })
    .map((from) => ({ from, semitones: place.semitones - from.semitones }))
    .sort((a, b) => Math.abs(a.semitones) - Math.abs(b.semitones))
    .slice(0, 2);
}

/** What a tuner's number is, typed: `+7`, `-12`; nothing for anything else. */
export function centsOf(typed: string): number | undefined {
  const text = typed.trim().replace('−', '-').replace(',', '.');
  const cents = Number(text);
  return text === '' || !Number.isFinite(cents) ? undefined : cents;
}

/** What was heard, for the log's label. */
export function heardWords(heard: 'true' | 'high' | 'low' | number): string {
  return typeof heard === 'number' ? centsWords(heard) : heard;
}
