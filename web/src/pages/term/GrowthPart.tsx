import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { GrowthPicture } from './GrowthPicture';
import { MeetingCard } from './MeetingCard';
import { StagesTable } from './StagesTable';
import { TermRead } from './TermRead';

/** The term in one picture: how bright the room was after each meeting, and what happened then. */
export function GrowthPart() {
  return <TermRead name="Growth">{(term) => <Growth term={term} />}</TermRead>;
}

function Growth({ term }: { term: Schemas['TermView'] }) {
  const last = term.meetings.length;
  const [chosen, setChosen] = useState<number>();
  if (last === 0)
    return (
      <Typography sx={{ maxWidth: 560 }}>
        The first meeting is still to come: see Approach, Calendar.
      </Typography>
    );
  // The last one at which somebody was looked at: the present one may just have begun.
  const lately = term.meetings.findLast(({ visited }) => visited > 0)?.meeting ?? last;
  const meeting = Math.min(chosen ?? lately, last);
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 1180, gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <GrowthPicture term={term} meeting={meeting} onMeeting={setChosen} />
      <MeetingCard term={term} meeting={meeting} onMeeting={setChosen} />
      <StagesTable term={term} />
    </Box>
  );
}
