import { ask, type Answer } from '../../core/door';
import type { Schemas } from '../../api/client';

export type Drill = Schemas['Drill'];
export type Level = Schemas['DrillLevel'];
export type Program = Answer<'drillProgram'>;
export type Segment = Program['segments'][number];

const MIN_TEMPO = 40;
const MAX_TEMPO = 120;

/** A tempo within what a drill is played at, in beats a minute. */
export function withinTempo(tempo: number): number {
  return Math.min(MAX_TEMPO, Math.max(MIN_TEMPO, Math.round(tempo)));
}

/** A drill beat by beat. The core has to be there. */
export function programOf(drill: Drill, level: Level | undefined, tempo: number): Program {
  return ask('drillProgram', { drill, tempo, ...(level && { level }) });
}

/** The part that a beat is in, by its index; after the end the last. */
export function partAt({ segments }: Program, beat: number): number {
  const index = segments.findIndex((segment) => beat < segment.firstBeat + segment.beats);
  return index === -1 ? segments.length - 1 : index;
}

/** The same place in a program with other rests: the same step of the same round, else the first part that comes after it. */
export function samePlace(from: Program, beat: number, to: Program): number {
  const was = from.segments[partAt(from, beat)];
  if (!was || beat >= from.beats) return beat >= from.beats ? to.beats : 0;
  const alike = (one: Segment) =>
    one.kind === was.kind && one.step === was.step && one.round === was.round && one.time === was.time;
  const after = (one: Segment) => one.kind === 'step' && one.round > was.round;
  const is = to.segments.find(alike);
  if (is) return is.firstBeat + Math.min(beat - was.firstBeat, is.beats - 1);
  return (to.segments.find(after) ?? to.segments[0])?.firstBeat ?? 0;
}

/** Syllables that share a beat: `ap-ple` has two. */
export function syllables(word: string): string[] {
  return word.split('-');
}

/** The word that is said on a beat of a step. */
export function wordOn(say: readonly string[], beat: number): number {
  return say.length === 0 ? 0 : beat % say.length;
}
