import Chip from '@mui/material/Chip';
import { useEffect, useEffectEvent } from 'react';
import type { Instrument } from '../api/client';
import { heardWords } from '../words/listening';
import { Listening } from './Listening';
import { SoundingString } from './SoundingString';
import { useEar } from './useEar';

interface Props {
  instrument: Instrument;
  /** Open strings, the lowest first: their letters and what they should sound. */
  strings: { letter: string; hz: number }[];
  /** A tone sounds from the speaker: it would be heard instead of a string. */
  toneSounds: boolean;
  /** Somebody begins to listen: the tone stops. */
  onListen: () => void;
  /** What is said, and done, once all four are in tune. */
  allWords?: string;
  onAll?: (() => void) | undefined;
  /** Whose instrument it is: with somebody else it goes on listening, and nothing is in tune yet. */
  whose?: string;
}

/** Tuning by the microphone: which string, how far off, which way to turn, and what is done. */
export function Ear({ instrument, strings, toneSounds, onListen, allWords, onAll, whose }: Props) {
  const ear = useEar();
  const { moment, turnOn, turnOff } = ear;
  useEffect(() => {
    if (toneSounds) turnOff();
  }, [toneSounds, turnOff]);
  const letters = strings.map(({ letter }) => letter);
  const all = moment?.done.every(Boolean) === true;
  const reached = useEffectEvent(() => onAll?.());
  useEffect(() => {
    if (all) reached();
  }, [all]);
  const words = all
    ? (allWords ?? 'All four are in tune: the next child.')
    : heardWords(moment, letters, instrument);
  const begin = () => {
    onListen();
    void turnOn({ instrument, task: 'tune', notes: strings.map(({ hz }) => ({ hz, finger: 0 })) });
  };
  const goOn = useEffectEvent(() => {
    if (ear.state === 'live') begin();
  });
  useEffect(() => goOn(), [whose]);
  return (
    <Listening
      name="By the microphone"
      ear={ear}
      begin="Tune by the microphone"
      onBegin={begin}
      words={words}
      // In the order of the tones above.
      head={strings
        .map(({ letter }, place) => ({ letter, place }))
        .toReversed()
        .map(({ letter, place }) => {
          const done = moment?.done[place] === true;
          return (
            <Chip
              key={letter}
              label={done ? `✓ ${letter}` : letter}
              color={done ? 'primary' : 'default'}
              variant={done || moment?.place === place ? 'filled' : 'outlined'}
              aria-label={`${letter}, ${done ? 'in tune' : 'not done'}`}
              sx={{ fontSize: '1.1rem', minWidth: 56 }}
            />
          );
        })}
    >
      <SoundingString heard={moment} right={moment?.turn === 'stay'} what={words} />
    </Listening>
  );
}
