import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import type { Instrument, Schemas } from '../api/client';
import { letterOf } from '../words/markers';
import { capital } from '../words/text';
import { Ear } from './Ear';
import { OneOf } from './OneOf';
import { Toggle } from './Toggle';
import { hush, sound } from './tones';

/** How each instrument is tuned, in the order in which it is done. */
const HOW: Record<Instrument, string[]> = (() => {
  const pegs = [
    'Within a semitone take the fine tuner: clockwise is higher.',
    'Further off, the peg: its top towards the scroll is higher. Turn it a little lower first, then up to the note.',
    'Push the peg in while it turns, the other hand against the scroll.',
    'A string that came off: lay it back over nut and bridge into its groove, its end through the peg’s hole, wind from the hole towards the peg’s head, evenly. Then bring it up slowly.',
  ];
  return {
    violin: pegs,
    viola: pegs,
    cello: pegs,
    bass: [
      'Turn the machine a little and listen which way it goes: the string that winds up goes higher.',
      'Leave the machine where it sits: it is geared and wants no push.',
      'A string that came off: lay it back over nut and bridge into its groove, its end through the hole, wind it evenly. Then bring it up slowly.',
    ],
  };
})();

interface Props {
  tuning: Schemas['TuningView'][];
}

/** A tone for every open string, long enough to tune by, and which way to turn. */
export function Tuning({ tuning }: Props) {
  const [instrument, setInstrument] = useState<Instrument>('violin');
  const [sounding, setSounding] = useState<string>();
  useEffect(() => hush, []);
  const strings = tuning.find((one) => one.instrument === instrument)?.strings ?? [];
  const stop = () => {
    hush();
    setSounding(undefined);
  };
  const turn = (note: string, hz: number) => {
    if (sounding === note) {
      stop();
      return;
    }
    const over = () => setSounding((now) => (now === note ? undefined : now));
    setSounding(note);
    // Without its program nothing sounds, and the key says so.
    sound(hz, over).catch(over);
  };
  return (
    <Box role="group" aria-label="Tuning" sx={{ display: 'grid', gap: 1 }}>
      <OneOf
        name="Tuned now"
        value={instrument}
        options={tuning.map((one) => [one.instrument, capital(one.instrument)] as const)}
        onChoose={(next) => {
          stop();
          setInstrument(next);
        }}
      />
      <Stack direction="row" spacing={1} role="group" aria-label="Tones" sx={{ flexWrap: 'wrap' }}>
        {strings.toReversed().map(({ note, hz }) => (
          <Toggle
            key={note}
            on={sounding === note}
            aria-label={`${sounding === note ? 'Stop' : 'Sound'} ${letterOf(note)}, ${hz.toFixed(1)} Hz`}
            onClick={() => turn(note, hz)}
          >
            ♪ {letterOf(note)}, {hz.toFixed(1)} Hz
          </Toggle>
        ))}
      </Stack>
      <Ear
        key={instrument}
        instrument={instrument}
        strings={strings.map(({ note, hz }) => ({ letter: letterOf(note), hz }))}
        toneSounds={sounding !== undefined}
        onListen={stop}
      />
      <Box component="ol" sx={{ m: 0, pl: 2.5, display: 'grid', gap: 0.5, maxWidth: 720 }}>
        {HOW[instrument].map((step) => (
          <Typography component="li" key={step}>
            {step}
          </Typography>
        ))}
      </Box>
      <Typography sx={{ color: 'text.secondary', maxWidth: 720 }}>
        Eyes away from the string, also those beside you. What slips, cracks or buzzes goes to a luthier.
      </Typography>
    </Box>
  );
}
