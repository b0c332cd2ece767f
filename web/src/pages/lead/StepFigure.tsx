import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import type { Instrument } from '../../api/client';
import { drawingsQuery } from '../../api/queries';
import { Figure } from '../../parts/Figure';
import { useShare } from '../../parts/useShare';
import type { Drill, Segment } from './program';
import { textFor } from './texts';

interface Props {
  classId: string;
  drill: Drill;
  segment: Segment | undefined;
  instrument: Instrument;
  mirrored: boolean;
}

/** What an instrument does in a step, drawn: it moves there from the step before where the step says so. */
export function StepFigure({ classId, drill, segment, instrument, mirrored }: Props) {
  const drawings = useQuery(drawingsQuery(classId)).data?.class;
  const steps = drawings?.steps[drill.id];
  // Before it begins the first step is there to be seen.
  const at = segment?.step ?? 0;
  const step = steps?.[at]?.[instrument];
  const before = steps?.[at - 1]?.[instrument];
  const moves = step !== undefined && step.moves && before !== undefined;
  const share = useShare(`${drill.id} ${at}`, moves);
  return (
    <Box sx={{ height: 'clamp(110px, 30vh, 480px)', minWidth: 0 }}>
      {step && (
        <Figure
          labelled
          spec={step.figure}
          instrument={instrument}
          mirrored={mirrored}
          what={`${instrument}: ${textFor(drill, segment, instrument)}${mirrored ? ', as in a mirror' : ''}`}
          {...(moves && share < 1 && { before: before.figure, share })}
        />
      )}
    </Box>
  );
}
