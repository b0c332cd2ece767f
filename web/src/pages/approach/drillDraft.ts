import type { Instrument, Schemas } from '../../api/client';
import { INSTRUMENTS } from '../../words/looks';

export type Drill = Schemas['Drill'];
export type DrillStep = Schemas['DrillStep'];
export type DrillLevel = Schemas['DrillLevel'];

export const MAX_STEPS = 16;

/** A drill to begin with, for everybody. */
export function newDrill(): Drill {
  const step = (load: boolean): DrillStep => ({ beats: 4, load, text: textFor(INSTRUMENTS, '') });
  return {
    id: '',
    name: '',
    aim: '',
    strand: 'bow',
    on: [...INSTRUMENTS],
    tempo: 60,
    rounds: 2,
    steps: [step(true), { ...step(false), text: textFor(INSTRUMENTS, 'Rest and shake out') }],
  };
}

function textFor(on: readonly Instrument[], text: string): DrillStep['text'] {
  return Object.fromEntries(on.map((instrument) => [instrument, text]));
}

/** The one text of a step that reads alike on every instrument. */
export function commonText({ text }: DrillStep): string | undefined {
  const texts = [...new Set(Object.values(text))];
  return texts.length === 1 ? texts[0] : undefined;
}

/** A step whose text is the same for everybody. */
export function withCommonText(step: DrillStep, text: string): DrillStep {
  return { ...step, text: Object.fromEntries(Object.keys(step.text).map((on) => [on, text])) };
}

/** A drill for one instrument more or less; who is new begins with the words of another. */
export function flipInstrument(drill: Drill, instrument: Instrument): Drill {
  const is = drill.on.includes(instrument);
  const on = INSTRUMENTS.filter((one) => (one === instrument ? !is : drill.on.includes(one)));
  const steps = drill.steps.map((step) => {
    const spare = Object.values(step.text)[0] ?? '';
    return { ...step, text: Object.fromEntries(on.map((one) => [one, step.text[one] ?? spare])) };
  });
  return { ...drill, on, steps };
}

/** Words one a beat, as they are typed: `pear ap-ple`. */
export function wordsOf(typed: string): string[] {
  return typed.split(/\s+/).filter((word) => word !== '');
}

/** A drill that waits for no stage. */
export function fromTheStart(drill: Drill): Drill {
  const free = { ...drill };
  delete free.after;
  return free;
}

/** How a drill can be played, in the order in which a class learns it. */
export const ALL_LEVELS: DrillLevel[] = ['rests', 'joined', 'bowed'];

/** A drill that is played at one level more or less; steps for that level alone are for every level then. */
export function flipLevel(drill: Drill, level: DrillLevel): Drill {
  const before = drill.levels ?? [];
  const levels = ALL_LEVELS.filter((one) => before.includes(one) !== (one === level));
  const steps = drill.steps.map((step) => forLevels(step, step.only ?? [], levels));
  return { ...drill, levels, steps };
}

/** A step that is played at one level more or less of those that its drill has. */
export function flipOnly(step: DrillStep, level: DrillLevel, levels: DrillLevel[]): DrillStep {
  const wanted = levels.filter((one) => isPlayed(step, one) !== (one === level));
  return forLevels(step, wanted, levels);
}

/** Whether a step is played at a level: a rest in the music only with rests, unless it says otherwise. */
export function isPlayed({ only, quiet }: DrillStep, level: DrillLevel): boolean {
  return only?.length ? only.includes(level) : !quiet || level === 'rests';
}

function forLevels(step: DrillStep, wanted: DrillLevel[], levels: DrillLevel[]): DrillStep {
  const only = levels.filter((level) => wanted.includes(level));
  return { ...step, only: only.length === levels.length && !step.quiet ? [] : only };
}
