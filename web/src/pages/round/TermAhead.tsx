import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import { BarPlot } from '@mui/x-charts/BarChart';
import { ChartsDataProvider } from '@mui/x-charts/ChartsDataProvider';
import { ChartsLegend } from '@mui/x-charts/ChartsLegend';
import { ChartsSurface } from '@mui/x-charts/ChartsSurface';
import { ChartsTooltip } from '@mui/x-charts/ChartsTooltip';
import { ChartsWrapper } from '@mui/x-charts/ChartsWrapper';
import { ChartsXAxis } from '@mui/x-charts/ChartsXAxis';
import { ChartsYAxis } from '@mui/x-charts/ChartsYAxis';
import { LinePlot } from '@mui/x-charts/LineChart';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass, roundQuery } from '../../api/queries';
import { Card, ClassName, PageContent, Read } from '../../parts/page';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';

type Forecast = Schemas['ForecastView'];

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
        {(read) => <Played classId={classId} usual={read.minutes} looks={read.maxChecksPerChild} />}
      </Read>
    </PageContent>
  );
}

function Played({ classId, usual, looks }: { classId: string; usual: number; looks: number }) {
  const [shown, setShown] = useState(usual);
  const [minutes, setMinutes] = useState(usual);
  const ahead = $api.useQuery(
    'get',
    '/api/classes/{class}/forecast',
    { params: { path: { class: classId }, query: { minutes } } },
    { ...LONG, placeholderData: keepPreviousData },
  );
  const [wanted, setWanted] = useState(false);
  const fewest = $api.useQuery('get', '/api/classes/{class}/forecast/fewest', ofClass(classId), {
    ...LONG,
    enabled: wanted,
  });
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
      <Read query={ahead} what="The term is being played">
        {(read) => <Picture read={read} />}
      </Read>
      <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Button variant="outlined" loading={fewest.isFetching} onClick={() => setWanted(true)}>
          How few minutes would do?
        </Button>
        {fewest.isFetching && <Button onClick={() => setWanted(false)}>Stop</Button>}
        {fewest.data && (
          <Typography role="status">
            {fewest.data.minutes === undefined
              ? `Not even ${MAX_MINUTES}, with ${count(looks, 'look')} a visit at most: look again at what stands less often, under Approach, Rhythm.`
              : `${count(fewest.data.minutes, 'minute')} a meeting: from some meeting on nothing is overdue.`}
          </Typography>
        )}
      </Stack>
      <Typography sx={{ color: 'text.secondary' }}>
        Played forward as if everything that is looked at were fine and nobody were absent: it tells what the
        minutes allow, not what children will do.
      </Typography>
    </Box>
  );
}

const TICKS = { fontSize: 14 };

/** Overdue looks as bars, the longest wait as a line; the same in a sentence. */
function Picture({ read }: { read: Forecast }) {
  const { vars } = useTheme();
  const { meetings } = read;
  const last = meetings.at(-1);
  if (!last)
    return (
      <Typography>No meeting is left in the calendar: set its last day under Approach, Calendar.</Typography>
    );
  const settled = read.settledFrom
    ? `From ${dayWords(read.settledFrom)} on nothing is overdue.`
    : `At the last meeting ${count(last.overdue, 'look')} would be overdue.`;
  const words = `${settled} The longest wait for a visit is ${count(read.longestWait, 'meeting')}, the mean ${read.meanWait.toFixed(1)}.`;
  return (
    <Card aria-label="The term ahead" sx={{ display: 'grid', gap: 1 }}>
      <Typography role="status" sx={{ fontSize: '1.1rem', fontWeight: 600 }}>
        {words}
      </Typography>
      <Box role="img" aria-label={`Overdue looks at each meeting. ${words}`}>
        <ChartsDataProvider
          height={280}
          skipAnimation
          xAxis={[
            {
              id: 'days',
              scaleType: 'band',
              height: 44,
              data: meetings.map(({ day }) => day),
              valueFormatter: dayWords,
            },
          ]}
          yAxis={[
            { id: 'looks', position: 'left', min: 0, tickMinStep: 1, label: 'looks overdue' },
            {
              id: 'wait',
              position: 'right',
              min: 0,
              max: Math.max(5, ...meetings.map(({ longestWait }) => longestWait)),
              tickMinStep: 1,
              label: 'meetings waited',
            },
          ]}
          series={[
            {
              type: 'bar',
              yAxisId: 'looks',
              label: 'looks overdue when a meeting begins',
              color: vars.palette.own.glow,
              data: meetings.map(({ overdue }) => overdue),
              valueFormatter: (looks, { dataIndex }) => lookWords(looks ?? 0, meetings[dataIndex]),
            },
            {
              type: 'line',
              yAxisId: 'wait',
              label: 'longest wait for a visit, in meetings',
              color: vars.palette.primary.main,
              showMark: false,
              curve: 'linear',
              data: meetings.map(({ longestWait }) => longestWait),
              valueFormatter: (wait) => count(wait ?? 0, 'meeting'),
            },
          ]}
        >
          <ChartsWrapper legendPosition={{ vertical: 'bottom', horizontal: 'start' }}>
            <ChartsLegend direction="horizontal" sx={{ fontSize: '1rem' }} />
            <ChartsSurface>
              <BarPlot />
              <LinePlot slotProps={{ line: { strokeWidth: 3 } }} />
              <ChartsXAxis axisId="days" tickLabelStyle={TICKS} />
              <ChartsYAxis axisId="looks" tickLabelStyle={TICKS} labelStyle={TICKS} />
              <ChartsYAxis axisId="wait" tickLabelStyle={TICKS} labelStyle={TICKS} />
            </ChartsSurface>
            <ChartsTooltip trigger="axis" />
          </ChartsWrapper>
        </ChartsDataProvider>
      </Box>
    </Card>
  );
}

/** `3 looks overdue, by 2 meetings at most; 12 visited`. */
function lookWords(looks: number, meeting: Forecast['meetings'][number] | undefined): string {
  const more = meeting ? `, by ${count(meeting.latest, 'meeting')} at most; ${meeting.visited} visited` : '';
  return `${count(looks, 'look')} overdue${more}`;
}
