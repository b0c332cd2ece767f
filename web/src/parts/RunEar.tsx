import Chip from '@mui/material/Chip';
import type { ReactNode } from 'react';
import type { Instrument } from '../api/client';
import type { PlayNote, RunSoFar } from '../core/hearing';
import { nearWords, playWords } from '../words/listening';
import { capital } from '../words/text';
import { Listening } from './Listening';
import { SoundingString } from './SoundingString';
import { useEar } from './useEar';

/** A note to play, and what it is called. */
export interface NamedNote extends PlayNote {
  words: string;
}

interface Props {
  name: string;
  /** What the button says that asks for the microphone. */
  begin: string;
  instrument: Instrument;
  notes: readonly NamedNote[];
  says?: boolean;
  /** What the run says once all was played. */
  overWords: (run: RunSoFar) => string;
  /** What can be done then. */
  after: (run: RunSoFar, again: () => void) => ReactNode;
}

/** So near the picture says that it is right, in cents. */
const NEAR = 6;

/** Notes one after the other: each is taken when it holds still, and then what they say is shown. */
export function RunEar({ name, begin, instrument, notes, says, overWords, after }: Props) {
  const ear = useEar();
  const { moment, run } = ear;
  const over = run !== undefined && run.cents.length === notes.length;
  const last = run?.cents.at(-1) ?? 0;
  const words = over ? overWords(run) : playWords(moment, run, notes);
  const listen = () =>
    void ear.turnOn({ instrument, task: 'run', notes: notes.map(({ hz, finger }) => ({ hz, finger })) });
  return (
    <Listening
      name={name}
      ear={ear}
      {...(says !== undefined && { says })}
      begin={begin}
      onBegin={listen}
      words={words}
      after={over && after(run, listen)}
      head={notes.map((note, at) => {
        const cents = run?.cents[at];
        const far = cents === undefined ? '' : `, ${nearWords(cents)}`;
        return (
          <Chip
            key={note.words}
            label={`${cents === undefined ? '' : '✓ '}${capital(note.words)}${far}`}
            color={cents === undefined ? 'default' : 'primary'}
            variant={cents !== undefined || run?.cents.length === at ? 'filled' : 'outlined'}
          />
        );
      })}
    >
      <SoundingString
        heard={over && moment ? { ...moment, place: 0, cents: last } : moment}
        right={Math.abs(over ? last : (moment?.cents ?? 0)) <= NEAR}
        what={words}
      />
    </Listening>
  );
}
