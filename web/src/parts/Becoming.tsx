import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Stack from '@mui/material/Stack';
import { useState } from 'react';
import type { Instrument } from '../api/client';
import { stressWords } from '../words/figures';
import { Figure, type Spec } from './Figure';
import { useShare, useStill } from './useShare';

interface Props {
  amiss: Spec;
  right: Spec;
  instrument: Instrument;
  /** How it becomes right. */
  help: string;
}

const WAIT = 1_100;

/** How it looks, and how it becomes right: it moves there, once more with a tap; both side by side where nothing may move. */
export function Becoming({ amiss, right, instrument, help }: Props) {
  const [time, setTime] = useState(0);
  const still = useStill();
  const share = useShare(time, true, WAIT);
  const stressed = stressWords(amiss.amiss ?? []);
  if (still)
    return (
      <Stack direction="row" spacing={1} sx={{ '& > *': { width: 120, height: 120 } }}>
        <Box>
          <Figure spec={amiss} instrument={instrument} what={`Before: look at the ${stressed}`} />
        </Box>
        <Box>
          <Figure spec={right} instrument={instrument} what={help} />
        </Box>
      </Stack>
    );
  return (
    <ButtonBase
      aria-label={`Show once more how it becomes right: ${stressed}`}
      onClick={() => setTime(time + 1)}
      sx={{ width: 150, height: 150, borderRadius: 1 }}
    >
      <Figure spec={right} before={amiss} share={share} instrument={instrument} what={help} />
    </ButtonBase>
  );
}
