import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { useLive } from '../../api/live';
import { roundQuery } from '../../api/queries';
import type { RoundKit } from '../../api/client';
import { ClassName, PageContent, Read } from '../../parts/page';
import { RoundSummary } from './RoundSummary';
import { StartRound } from './StartRound';
import { useRound } from './useRound';
import { Walk } from './Walk';

/** A round: begun, walked, looked back on. */
export function RoundPage() {
  const { classId = '' } = useParams();
  const kit = useQuery(roundQuery(classId));
  useLive(classId);
  return (
    <Read query={kit} what="The round is being prepared">
      {(read) => <Known key={classId} classId={classId} first={read} />}
    </Read>
  );
}

function Known({ classId, first }: { classId: string; first: RoundKit }) {
  // Read here, where the outbox is read too: what leaves the one is in the other within the same picture.
  const kit = useQuery(roundQuery(classId)).data ?? first;
  const round = useRound(classId, kit);
  // Somebody who wants another round today leaves the last one behind.
  const [again, setAgain] = useState<string>();
  const { state } = round;
  if (state && !state.endedAt) return <Walk key={state.id} kit={kit} round={round} state={state} />;
  if (state && again !== state.id)
    return <RoundSummary kit={kit} round={round} state={state} onAgain={() => setAgain(state.id)} />;
  return (
    <PageContent name="Start of a round" bar={<ClassName name={kit.className} path="round" />}>
      {kit.children.length === 0 ? (
        <Typography sx={{ maxWidth: 520, py: 4 }}>
          There is nobody to walk to yet. Add the children in the Room first.
        </Typography>
      ) : (
        <Box sx={{ maxWidth: 1200 }}>
          <StartRound kit={kit} round={round} />
        </Box>
      )}
    </PageContent>
  );
}
