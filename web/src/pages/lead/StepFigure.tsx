import Box from '@mui/material/Box';
import Stack from '@mui/material/Stack';
import { useQuery } from '@tanstack/react-query';
import type { Instrument } from '../../api/client';
import { drawingsQuery } from '../../api/queries';
import { Figure } from '../../parts/Figure';
import { useShare, useStill } from '../../parts/useShare';
import { stressWords } from '../../words/figures';
import type { Drill, Segment } from './program';
import { textFor } from './texts';

interface Props {
  classId: string;
  drill: Drill;
  segment: Segment | undefined;
  instrument: Instrument;
  mirrored: boolean;
}

/** How long the other stays before it becomes right, in milliseconds. */
const OTHER_STAYS = 800;

/**
 * What an instrument does in a step, drawn. It moves there from the step before where the step says so; in a class that sees both,
 * from the other, which stands beside it where nothing may move.
 */
export function StepFigure({ classId, drill, segment, instrument, mirrored }: Props) {
  const drawings = useQuery(drawingsQuery(classId)).data?.class;
  const steps = drawings?.steps[drill.id];
  // Before it begins the first step is there to be seen.
  const at = segment?.step ?? 0;
  const step = steps?.[at]?.[instrument];
  const other = step?.other ?? undefined;
  const from = other ?? (step?.moves ? steps?.[at - 1]?.[instrument]?.figure : undefined);
  const still = useStill();
  const share = useShare(
    `${drill.id} ${at} ${segment === undefined}`,
    from !== undefined,
    other ? OTHER_STAYS : 0,
  );
  if (!step) return <Box sx={HEIGHT} />;
  const shown = { labelled: true, instrument, mirrored };
  const way = mirrored ? ', as in a mirror' : '';
  const right = (
    <Figure
      {...shown}
      spec={step.figure}
      what={`${instrument}: ${textFor(drill, segment, instrument)}${way}`}
      {...(from && share < 1 && { before: from, share })}
    />
  );
  if (!still || !other) return <Box sx={HEIGHT}>{right}</Box>;
  return (
    <Stack spacing={1} sx={{ minWidth: 0, '& > *': { height: 'clamp(90px, 22vh, 340px)' } }}>
      <Box>
        <Figure
          {...shown}
          spec={other}
          what={`${instrument}, before: look at the ${stressWords(other.amiss ?? [])}${way}`}
        />
      </Box>
      <Box>{right}</Box>
    </Stack>
  );
}

const HEIGHT = { height: 'clamp(110px, 30vh, 480px)', minWidth: 0 };
