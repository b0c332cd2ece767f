import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../api/client';
import { Card } from '../../parts/page';
import { STRANDS } from '../../words/looks';
import { happenedAt, meetingWords, percent } from '../../words/term';

const ORDER = ['hold', 'bow', 'frame', 'tape'] as const;

interface Props {
  term: Schemas['TermView'];
  meeting: number;
  onMeeting: (meeting: number) => void;
}

/** What happened at one meeting: tapped in the picture, or stepped to. */
export function MeetingCard({ term, meeting, onMeeting }: Props) {
  const then = term.meetings.find((one) => one.meeting === meeting);
  if (!then) return null;
  const happened = happenedAt(term, meeting);
  return (
    <Card aria-label="What happened then" sx={{ display: 'grid', gap: 1 }}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Button disabled={meeting <= 1} onClick={() => onMeeting(meeting - 1)}>
          Earlier
        </Button>
        <Box role="status" sx={{ flex: 1, minWidth: 220 }}>
          <Typography variant="h2">{meetingWords(then)}</Typography>
        </Box>
        <Button disabled={meeting >= term.meetings.length} onClick={() => onMeeting(meeting + 1)}>
          Later
        </Button>
      </Stack>
      <Typography color="textSecondary">
        {ORDER.map((strand, place) => `${STRANDS[strand]} ${percent(then.strands[place] ?? 0)}`).join(' · ')}
      </Typography>
      {happened.length === 0 ? (
        <Typography>Nothing new was seen.</Typography>
      ) : (
        <Box component="dl" sx={{ m: 0, display: 'grid', gap: 0.75 }}>
          {happened.map(({ what, who }) => (
            <Box
              key={`${what} ${who}`}
              sx={{ display: 'grid', columnGap: 2, gridTemplateColumns: { xs: '1fr', sm: '300px 1fr' } }}
            >
              <Box component="dt" sx={{ fontWeight: 600 }}>
                {what}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {who}
              </Box>
            </Box>
          ))}
        </Box>
      )}
    </Card>
  );
}
