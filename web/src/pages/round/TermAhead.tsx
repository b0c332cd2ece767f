import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { $api, ofClass, roundQuery } from '../../api/queries';
import { ClassName, PageContent, Read } from '../../parts/page';
import { nextWords } from '../../words/ahead';
import { count } from '../../words/text';
import { LateAhead } from './LateAhead';
import { RhythmAhead } from './RhythmAhead';
import { StagesAhead } from './StagesAhead';

const MAX_MINUTES = 60;
/** A long computation; its answer serves for a while. */
const LONG = { staleTime: 60_000 };

/** The term ahead with so many minutes a meeting. */
export function TermAhead() {
  const { classId = '' } = useParams();
  const kit = useQuery(roundQuery(classId));
  return (
    <PageContent name="Forecast" bar={<ClassName name={kit.data?.className ?? ''} path="round/term" />}>
      <Read query={kit} what="The term is being looked up">
        {(read) => <Played classId={classId} usual={read.minutes} />}
      </Read>
    </PageContent>
  );
}

function Played({ classId, usual }: { classId: string; usual: number }) {
  const [shown, setShown] = useState(usual);
  const [minutes, setMinutes] = useState(usual);
  const ahead = $api.useQuery(
    'get',
    '/api/classes/{class}/forecast',
    { params: { path: { class: classId }, query: { minutes } } },
    { ...LONG, placeholderData: keepPreviousData },
  );
  return (
    <Box sx={{ maxWidth: 1000, display: 'grid', gap: 2 }}>
      <Stack direction="row" spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography variant="h2" id="minutes-ahead" sx={{ flex: 'none', minWidth: 270 }}>
          {shown} minutes a meeting
        </Typography>
        <Slider
          aria-labelledby="minutes-ahead"
          value={shown}
          min={1}
          max={MAX_MINUTES}
          sx={{ flex: 1, minWidth: 220, maxWidth: 420, mx: 1 }}
          onChange={(_, value: number | number[]) => setShown([value].flat()[0] ?? usual)}
          onChangeCommitted={(_, value: number | number[]) => setMinutes([value].flat()[0] ?? usual)}
        />
        <Button component={Link} to={`/class/${classId}/round`}>
          Back to the round
        </Button>
      </Stack>
      {ahead.isPlaceholderData && <LinearProgress aria-label="The term is being played anew" />}
      <Read query={ahead} what="The term is being played, some seconds">
        {(read) =>
          read.meetings.length === 0 ? (
            <Typography>
              No meeting is left in the calendar: set its last day under Approach, Calendar.
            </Typography>
          ) : (
            <>
              {nextWords(read.milestones) && (
                <Typography role="status" sx={{ fontSize: '1.2rem', fontWeight: 600 }}>
                  {nextWords(read.milestones)}
                </Typography>
              )}
              <StagesAhead read={read} />
              <RhythmAhead classId={classId} minutes={read.minutes} keepsUp={read.keepsUp} />
              <LateAhead read={read} />
              <FewestMinutes classId={classId} />
            </>
          )
        }
      </Read>
      <Typography sx={{ color: 'text.secondary' }}>
        Played forward {ahead.data ? count(ahead.data.plays, 'time') : 'many times'} from how the class
        stands, at the pace its own observations show, with rounds as they are planned here and nobody absent.
        “About” is the middle of all plays, the days beside it hold eight of ten; most means four children of
        five.
      </Typography>
    </Box>
  );
}

function FewestMinutes({ classId }: { classId: string }) {
  const [wanted, setWanted] = useState(false);
  const fewest = $api.useQuery('get', '/api/classes/{class}/forecast/fewest', ofClass(classId), {
    ...LONG,
    enabled: wanted,
  });
  return (
    <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
      <Button variant="outlined" loading={fewest.isFetching} onClick={() => setWanted(true)}>
        How few minutes would do?
      </Button>
      {fewest.isFetching && <Button onClick={() => setWanted(false)}>Stop</Button>}
      {fewest.data && (
        <Typography role="status">
          {fewest.data.minutes === undefined
            ? `Not even ${MAX_MINUTES}: look again at what stands less often, under Approach, Rhythm.`
            : `${count(fewest.data.minutes, 'minute')} a meeting keep up with what comes due.`}
        </Typography>
      )}
    </Stack>
  );
}
