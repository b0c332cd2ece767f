import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Strand } from '../api/client';
import { useFamilyAnswers, type Back } from '../offline/familyAnswers';
import { ALL_SAYS, PAIN_CAUTION, SAYS, STRANDS } from '../words/looks';
import { Callout } from './page';
import { Toggle } from './Toggle';

const DAYS = [0, 1, 2, 3, 4, 5, 6, 7];
/** At what it can hurt. */
const WHERE: Strand[] = ['hold', 'bow', 'frame'];

interface Props {
  classId: string;
  child: { id: string; name: string };
  /** What the server has said of this week; absent where it was not asked. */
  back: Back | undefined;
}

/** What came back with a child's card: one tap for the days, one for how it was. */
export function FromHome({ classId, child, back }: Props) {
  const { now, tap } = useFamilyAnswers(classId, child, back);
  const [asking, setAsking] = useState(false);
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Stack direction="row" useFlexGap sx={{ flexWrap: 'wrap', columnGap: 2, rowGap: 0.75 }}>
        <Stack
          direction="row"
          spacing={0.5}
          role="group"
          aria-label={`Days on which ${child.name} practised`}
          sx={{ alignItems: 'center' }}
        >
          {DAYS.map((days) => (
            <Toggle
              key={days}
              on={now.days === days}
              onClick={() => tap({ days })}
              sx={{ minWidth: { xs: 33, sm: 44 }, px: { xs: 0, sm: 0.5 } }}
            >
              {days}
            </Toggle>
          ))}
          <span>days</span>
        </Stack>
        <Stack
          direction="row"
          spacing={0.5}
          useFlexGap
          role="group"
          aria-label={`How it was for ${child.name}`}
          sx={{ flexWrap: 'wrap' }}
        >
          {ALL_SAYS.map((says) => (
            <Toggle
              key={says}
              on={now.says === says || (says === 'hurts' && asking)}
              onClick={() => {
                // Where it hurts is asked first.
                if (says === 'hurts' && now.says !== 'hurts') setAsking(!asking);
                else {
                  setAsking(false);
                  tap({ says });
                }
              }}
            >
              {SAYS[says]}
            </Toggle>
          ))}
        </Stack>
      </Stack>
      {asking && (
        <Stack
          direction="row"
          spacing={0.75}
          useFlexGap
          role="group"
          aria-label={`At what it hurts ${child.name}`}
          sx={{ flexWrap: 'wrap', alignItems: 'center' }}
        >
          <Typography>It hurts at</Typography>
          {WHERE.map((strand) => (
            <Button
              key={strand}
              variant="pill"
              onClick={() => {
                setAsking(false);
                tap({ says: 'hurts', hurtsAt: strand });
              }}
            >
              {STRANDS[strand]}
            </Button>
          ))}
        </Stack>
      )}
      {now.says === 'hurts' && <Callout role="alert">{PAIN_CAUTION}</Callout>}
    </Box>
  );
}
