import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { OneOf } from '../../parts/OneOf';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { play, type Sound } from '../../parts/tones';
import { colourOf, letterOf } from '../../words/markers';
import type { Schemas } from '../../api/client';

/** Plucked or held, as this device last chose. */
function useSound(): readonly [sound: Sound, set: (sound: Sound) => void] {
  return useLocalSetting<Sound>('tone', ['plucked', 'held']);
}

/** One tone to hear. */
export function Tone({ hz, children }: { hz: number; children: string }) {
  const [sound] = useSound();
  return (
    <Button
      variant="outlined"
      onClick={() => void play(hz, sound).catch(() => undefined)}
      aria-label={`Hear ${children}`}
      sx={{ minWidth: 44, px: 1.25, whiteSpace: 'nowrap' }}
    >
      ♪ {children}
    </Button>
  );
}

/** The colour of a finger's marker, where each has its own; it stands beside the words that say it. */
export function FingerDot({ finger, markers }: { finger: string; markers: Schemas['MarkerSetView'] }) {
  if (!markers.colours || !/[1-4]/.test(finger)) return null;
  return (
    <Box
      component="span"
      aria-hidden
      sx={{
        display: 'inline-block',
        width: 14,
        height: 14,
        borderRadius: '50%',
        mr: 0.75,
        bgcolor: colourOf(markers.fingerColours, finger).hex,
        border: 1,
        borderColor: 'text.primary',
      }}
    />
  );
}

/** The open strings to hear, low to high. */
export function OpenStrings({ strings }: { strings: Schemas['OpenStringView'][] }) {
  return (
    <Stack direction="row" spacing={1} role="group" aria-label="Open strings" sx={{ flexWrap: 'wrap' }}>
      {strings.map(({ note, hz }) => (
        <Tone key={note} hz={hz}>
          {letterOf(note)}
        </Tone>
      ))}
    </Stack>
  );
}

/** How tones sound. */
export function SoundChips() {
  const [sound, set] = useSound();
  return (
    <OneOf
      name="How tones sound"
      value={sound}
      options={[
        ['plucked', 'Plucked'],
        ['held', 'Held'],
      ]}
      onChoose={set}
    />
  );
}
