import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { OneOf } from '../../parts/OneOf';
import type { Conductor, Sounds } from './conductor';
import type { Segment } from './program';

interface Props {
  conductor: Conductor;
  segment: Segment | undefined;
  sounds: Sounds;
  onSounds: (sounds: Sounds) => void;
  mirrored: boolean;
  onMirror: () => void;
  onLeave: () => void;
}

/** The count, and everything that moves the drill; each has a key. */
export function Controls({ conductor, segment, sounds, onSounds, mirrored, onMirror, onLeave }: Props) {
  const { beat, running, over, tempo } = conductor;
  const count =
    segment && !over && (running || beat > segment.firstBeat) ? beat - segment.firstBeat + 1 : '–';
  return (
    <Stack
      direction="row"
      component="footer"
      sx={{
        flexWrap: 'wrap',
        alignItems: 'center',
        columnGap: { xs: 0.75, xl: 1 },
        rowGap: 0.75,
        // On a laptop they fit into one row.
        '& .MuiButton-root': { px: { lg: 1.25, xl: 2 } },
      }}
    >
      <Box
        role="status"
        aria-label="Count"
        sx={{ fontSize: 'clamp(2rem, 4vw, 5rem)', fontWeight: 700, minWidth: '2.3em', lineHeight: 1 }}
      >
        {count}
        <Box component="span" sx={{ fontSize: '0.4em', fontWeight: 400 }}>
          {' '}
          of {segment?.beats}
        </Box>
      </Box>
      <Button
        variant="contained"
        size="large"
        aria-keyshortcuts="p"
        onClick={running ? conductor.pause : conductor.start}
      >
        {running ? 'Pause' : over ? 'Once more' : 'Start'}&ensp;P
      </Button>
      <Button variant="outlined" aria-keyshortcuts="ArrowLeft PageUp" onClick={conductor.previous}>
        ← Previous
      </Button>
      <Button
        variant="outlined"
        aria-keyshortcuts="ArrowRight PageDown"
        disabled={over}
        onClick={conductor.next}
      >
        Next →
      </Button>
      <Button variant="outlined" aria-keyshortcuts="a" onClick={conductor.again}>
        Again&ensp;A
      </Button>
      <Button
        variant="outlined"
        aria-label="Round R, on to the next"
        aria-keyshortcuts="r"
        disabled={over}
        onClick={conductor.nextRound}
      >
        Round&ensp;R
      </Button>
      <Box sx={{ flex: 1 }} />
      <Stack direction="row" role="group" aria-label="Tempo" spacing={0.75} sx={{ alignItems: 'center' }}>
        <IconButton aria-label="Slower" aria-keyshortcuts="-" onClick={() => conductor.setTempo(tempo - 4)}>
          −
        </IconButton>
        <Box component="output" sx={{ minWidth: 64, textAlign: 'center', lineHeight: 1.15 }}>
          <strong>{tempo}</strong>
          <br />a minute
        </Box>
        <IconButton aria-label="Faster" aria-keyshortcuts="+" onClick={() => conductor.setTempo(tempo + 4)}>
          +
        </IconButton>
        <Button variant="outlined" aria-keyshortcuts="t" onClick={conductor.tap}>
          Tap&ensp;T
        </Button>
      </Stack>
      <OneOf
        name="What is heard"
        value={sounds}
        options={
          [
            ['click', 'Click'],
            ['words', 'Words'],
            ['silent', 'Silent'],
          ] as const
        }
        onChoose={onSounds}
      />
      <Button variant="outlined" aria-pressed={mirrored} aria-keyshortcuts="m" onClick={onMirror}>
        Mirror&ensp;M
      </Button>
      <Button variant="outlined" aria-keyshortcuts="Escape" onClick={onLeave}>
        Leave&ensp;Esc
      </Button>
    </Stack>
  );
}
