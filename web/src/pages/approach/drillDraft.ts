import type { Instrument, Schemas } from '../../api/client';
import { INSTRUMENTS } from '../../words/looks';

export type Drill = Schemas['Drill'];
export type DrillStep = Schemas['DrillStep'];

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
