import type { Marker, Schemas, TapeSpot } from '../../api/client';
import { centsWords, fingerWords, letterOf, markerName, noteWords } from '../../words/markers';
import { count } from '../../words/text';
import type { NamedNote } from '../../parts/RunEar';

export type ProofKind = Schemas['Proof'];

/** A way to prove a marker by ear. */
export interface Proof {
  key: string;
  kind: ProofKind;
  /** `3 on D against open G: octave above`. */
  words: string;
  /** Tones to compare, each with what it is. */
  tones: { name: string; hz: number }[];
  /** What is played for the microphone: what it is compared with, where there is something, then the marker. */
  played: NamedNote[];
}

const hzOf = (strings: Schemas['OpenStringView'][], note: string) =>
  strings.find((open) => open.note === note)?.hz ?? 0;

/** `a semitone`, `a whole tone`, `3 semitones`. */
export function stepWords(semitones: number): string {
  const far = Math.abs(semitones);
  if (far === 1) return 'a semitone';
  return far === 2 ? 'a whole tone' : count(far, 'semitone');
}

/** Every way to prove a marker, the nearest comparison first; a step only from a marker that is proved. */
export function proofsOf(
  position: Marker,
  positions: Marker[],
  spots: TapeSpot[],
  strings: Schemas['OpenStringView'][],
): Proof[] {
  const name = markerName(position.finger);
  const against = position.earChecks.map((check): Proof => {
    const stopped = position.notes.find((note) => note.string === check.string);
    return {
      key: `${check.string}-${check.openString}`,
      kind: 'openString',
      words: `${name} on ${letterOf(check.string)} is ${noteWords(check.note)}: ${check.relation === 'unison' ? 'the same as' : check.relation} open ${letterOf(check.openString)}${check.allowCents > 0 ? `, ${count(check.allowCents, 'cent')} more allowed` : ''}`,
      tones: [
        { name: `open ${letterOf(check.openString)}`, hz: hzOf(strings, check.openString) },
        { name: noteWords(check.note), hz: stopped?.hz ?? 0 },
      ],
      played: [
        { hz: hzOf(strings, check.openString), finger: 0, words: `open ${letterOf(check.openString)}` },
        { hz: stopped?.hz ?? 0, finger: 1, words: `${name} on ${letterOf(check.string)}` },
      ],
    };
  });
  const middle = position.notes[Math.floor(position.notes.length / 2)];
  const alone = { hz: middle?.hz ?? 0, finger: 1, words: `${name} on ${letterOf(middle?.string ?? '')}` };
  const steps = markersToStepFrom(position, positions, spots).map(({ from, semitones }): Proof => {
    const start = from.notes.find((note) => note.string === middle?.string);
    return {
      key: `step-${from.finger}`,
      kind: 'step',
      words: `${stepWords(semitones)} ${semitones < 0 ? 'below' : 'above'} marker ${fingerWords(from.finger)}, which is proved`,
      tones: [
        { name: `marker ${fingerWords(from.finger)}`, hz: start?.hz ?? 0 },
        { name: noteWords(middle?.note ?? ''), hz: middle?.hz ?? 0 },
      ],
      played: [
        {
          hz: start?.hz ?? 0,
          finger: 0,
          words: `${markerName(from.finger)} on ${letterOf(middle?.string ?? '')}`,
        },
        alone,
      ],
    };
  });
  const tones = position.notes.map(({ note, hz }) => ({ name: noteWords(note), hz }));
  return [
    ...against,
    ...steps,
    { key: 'tone', kind: 'tone', words: 'against a reference tone on any string', tones, played: [alone] },
    { key: 'tuner', kind: 'tuner', words: 'with a tuner: how many cents off', tones: [], played: [alone] },
  ];
}

/** Where a marker has no open string to compare with: the markers that are proved, the nearest first. */
function markersToStepFrom(position: Marker, positions: Marker[], spots: TapeSpot[]) {
  if (position.earChecks.length > 0) return [];
  return positions
    .filter(({ finger, semitones }) => {
      const spot = spots.find((one) => one.spot === finger);
      return finger !== position.finger && semitones !== position.semitones && spot?.proved === true;
    })
    .map((from) => ({ from, semitones: position.semitones - from.semitones }))
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
