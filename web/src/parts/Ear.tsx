import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import visuallyHidden from '@mui/utils/visuallyHidden';
import { useEffect, useRef, useState } from 'react';
import type { Instrument } from '../api/client';
import { EAR_WORDS, heardWords } from '../words/listening';
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
}

/** Milliseconds between two things that are spoken: a pace that can be followed. */
const PACE = 2_500;

/** Tuning by the microphone: which string, how far off, which way to turn, and what is done. */
export function Ear({ instrument, strings, toneSounds, onListen }: Props) {
  const { state, moment, turnOn, turnOff } = useEar();
  useEffect(() => {
    if (toneSounds) turnOff();
  }, [toneSounds, turnOff]);
  const listening = state === 'live' || state === 'muted';
  const letters = strings.map(({ letter }) => letter);
  const words = heardWords(moment, letters, instrument);
  const all = moment?.done.every(Boolean) === true;
  const begin = () => {
    onListen();
    void turnOn({ instrument, openHz: strings.map(({ hz }) => hz) });
  };
  const said = EAR_WORDS[state];
  return (
    <Box role="group" aria-label="By the microphone" sx={{ display: 'grid', gap: 1 }}>
      {listening ? (
        <>
          <Stack direction="row" spacing={1} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            {/* In the order of the tones above. */}
            {strings
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
            <Box sx={{ flex: 1 }} />
            <Button variant="outlined" onClick={() => turnOff()}>
              Stop listening
            </Button>
          </Stack>
          <SoundingString moment={moment} what={words} />
          <Typography sx={{ fontSize: 'clamp(1.3rem, 3vw, 2rem)', fontWeight: 600, minHeight: '1.4em' }}>
            {all ? 'All four are in tune: the next child.' : words}
          </Typography>
          <Spoken words={all ? 'All four are in tune: the next child.' : words} />
        </>
      ) : (
        <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
          <Button variant="outlined" loading={state === 'asked'} onClick={begin}>
            {said ? 'Listen again' : 'Tune by the microphone'}
          </Button>
          <Typography sx={{ flex: 1, minWidth: 220, color: 'text.secondary' }}>
            What is heard becomes numbers on this screen: nothing is stored, nothing is sent.
          </Typography>
        </Stack>
      )}
      {said && <Alert severity="info">{said}</Alert>}
    </Box>
  );
}

/** For those who do not see: what is heard, at a pace that can be followed. */
function Spoken({ words }: { words: string }) {
  const latest = useRef(words);
  const [spoken, setSpoken] = useState(words);
  useEffect(() => {
    latest.current = words;
  }, [words]);
  useEffect(() => {
    const timer = setInterval(() => setSpoken(latest.current), PACE);
    return () => clearInterval(timer);
  }, []);
  return (
    <div role="status" style={visuallyHidden}>
      {spoken}
    </div>
  );
}
