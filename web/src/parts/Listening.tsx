import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import visuallyHidden from '@mui/utils/visuallyHidden';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { EAR_WORDS } from '../words/listening';
import type { useEar } from './useEar';

interface Props {
  /** Names it for those who do not see. */
  name: string;
  ear: ReturnType<typeof useEar>;
  /** What the button says that asks for the microphone. */
  begin: string;
  onBegin: () => void;
  /** In one line with the button that stops: what is done so far. */
  head?: ReactNode;
  /** Whether it says here that nothing is kept; where several stand below each other, the first one does. */
  says?: boolean;
  /** What is heard, in words; it is also spoken. */
  words: string;
  /** What can be done with it. */
  after?: ReactNode;
  /** The picture. */
  children: ReactNode;
}

/** Milliseconds between two things that are spoken: a pace that can be followed. */
const PACE = 2_500;

/** Asks for the microphone when tapped, shows what is heard while it listens, and says plainly why it does not. */
export function Listening({ name, ear, begin, onBegin, head, says = true, words, after, children }: Props) {
  const { state, simulated, turnOff } = ear;
  const said = EAR_WORDS[state];
  return (
    <Box role="group" aria-label={name} sx={{ display: 'grid', gap: 1 }}>
      {state === 'live' || state === 'muted' ? (
        <>
          <Stack direction="row" spacing={1} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
            {head}
            <Box sx={{ flex: 1 }} />
            <Button variant="outlined" onClick={() => turnOff()}>
              Stop listening
            </Button>
          </Stack>
          {simulated && (
            <Typography sx={{ color: 'text.secondary' }}>
              Simulated: an instrument of the demo school plays, not the microphone.
            </Typography>
          )}
          {children}
          <Typography
            sx={{
              fontSize: 'clamp(1.3rem, 3vw, 2rem)',
              fontWeight: 600,
              minHeight: '1.4em',
              lineHeight: 1.25,
            }}
          >
            {words}
          </Typography>
          <Spoken words={words} />
          {after}
        </>
      ) : (
        <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
          <Button variant="outlined" loading={state === 'asked'} onClick={onBegin}>
            {said ? 'Listen again' : begin}
          </Button>
          {says && (
            <Typography sx={{ flex: 1, minWidth: 220, color: 'text.secondary' }}>
              What is heard becomes numbers on this screen: nothing is stored, nothing is sent.
            </Typography>
          )}
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
