import type { ReactNode } from 'react';
import type { Instrument } from '../api/client';
import type { Over } from '../core/hearing';
import { overWords } from '../words/listening';
import { Listening } from './Listening';
import { SoundingString } from './SoundingString';
import { useEar } from './useEar';

interface Props {
  instrument: Instrument;
  /** Its open strings in hertz, the lowest first. */
  openHz: readonly number[];
  /** What can be done with what was heard last. */
  after: (over: Over) => ReactNode;
}

/** Does it ring, how is the tone: one sound after the other, a pluck beside the open string of this very instrument. */
export function SoundEar({ instrument, openHz, after }: Props) {
  const ear = useEar();
  const heard = ear.over.filter(({ kind }) => kind !== 'noise');
  const last = heard.at(-1);
  const words = last
    ? overWords(last)
    : 'Pluck an open string and let it ring, then the note; or bow one long note.';
  return (
    <Listening
      name="Does it ring, how is the tone"
      ear={ear}
      begin="Does it ring? How is the tone?"
      onBegin={() =>
        void ear.turnOn({ instrument, task: 'sounds', notes: openHz.map((hz) => ({ hz, finger: 0 })) })
      }
      words={words}
      after={last && after(last)}
    >
      <SoundingString heard={ear.moment} what={words} />
    </Listening>
  );
}
