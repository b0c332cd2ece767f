import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass, roundQuery } from '../../api/queries';
import { Card, ClassName, PageContent, Read } from '../../parts/page';
import { count, dayWords } from '../../words';

type Forecast = Schemas['ForecastView'];

const MOST = 60;
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
          max={MOST}
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
              ? `Not even ${MOST}: what is still being learned is due at nearly every meeting, with ${count(looks, 'look')} a visit at most.`
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

const Chart = styled('svg')(({ theme }) => ({
  width: '100%',
  height: 230,
  display: 'block',
  '& .bar': { fill: theme.vars.palette.own.glow, stroke: theme.vars.palette.own.glowEdge },
  '& .wait': { fill: 'none', stroke: theme.vars.palette.primary.main, strokeWidth: 2.5 },
  '& .axis': { stroke: theme.vars.palette.own.rest },
}));

const WIDTH = 960;
const BASE = 220;
const HIGH = 190;
const EDGE = 2;

/** Overdue looks as bars, the longest wait as a line; the same in a sentence. */
function Picture({ read }: { read: Forecast }) {
  const { meetings } = read;
  if (meetings.length === 0)
    return (
      <Typography>No meeting is left in the calendar: set its last day under Approach, Calendar.</Typography>
    );
  const most = Math.max(1, ...meetings.map(({ overdue }) => overdue));
  const longest = Math.max(5, ...meetings.map(({ longestWait }) => longestWait));
  const step = (WIDTH - 2 * EDGE) / meetings.length;
  const x = (index: number) => EDGE + index * step;
  const line = meetings.map(
    ({ longestWait }, index) => `${x(index) + step / 2},${BASE - (longestWait / longest) * HIGH}`,
  );
  const last = meetings.at(-1);
  const settled = read.settledFrom
    ? `From ${dayWords(read.settledFrom)} on nothing is overdue.`
    : `At the last meeting ${count(last?.overdue ?? 0, 'look')} would be overdue.`;
  const words = `${settled} The longest wait for a visit is ${count(read.longestWait, 'meeting')}, the mean ${read.meanWait.toFixed(1)}.`;
  return (
    <Card aria-label="The term ahead" sx={{ display: 'grid', gap: 1 }}>
      <Typography role="status" sx={{ fontSize: '1.1rem', fontWeight: 600 }}>
        {words}
      </Typography>
      <Stack direction="row" aria-hidden sx={{ justifyContent: 'space-between' }}>
        <span>{count(most, 'look')}</span>
        <span>{count(longest, 'meeting')}</span>
      </Stack>
      <Chart
        viewBox={`0 0 ${WIDTH} ${BASE + 4}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Overdue looks at each meeting. ${words}`}
      >
        {meetings.map(({ meeting, day, overdue, latest, visited }, index) => {
          const height = (overdue / most) * HIGH;
          return (
            <rect
              key={meeting}
              className="bar"
              x={x(index) + 1}
              y={BASE - height}
              width={Math.max(1, step - 2)}
              height={height}
            >
              <title>{`${dayWords(day)}: ${count(overdue, 'look')} overdue, by ${count(latest, 'meeting')} at most; ${visited} visited`}</title>
            </rect>
          );
        })}
        <polyline className="wait" points={line.join(' ')} vectorEffect="non-scaling-stroke" />
        <line className="axis" x1={EDGE} x2={WIDTH - EDGE} y1={BASE} y2={BASE} />
      </Chart>
      <Stack direction="row" aria-hidden sx={{ justifyContent: 'space-between' }}>
        {[0, Math.floor((meetings.length - 1) / 2), meetings.length - 1].map((at, label) => (
          <span key={label}>{dayWords(meetings[at]?.day ?? '')}</span>
        ))}
      </Stack>
      <Stack direction="row" sx={{ flexWrap: 'wrap', columnGap: 3 }}>
        <span>
          <Box
            component="span"
            aria-hidden
            sx={{
              display: 'inline-block',
              width: 14,
              height: 14,
              bgcolor: (t) => t.vars.palette.own.glow,
              border: 1,
              mr: 0.75,
            }}
          />
          looks overdue when a meeting begins
        </span>
        <span>
          <Box
            component="span"
            aria-hidden
            sx={{
              display: 'inline-block',
              width: 20,
              height: 0,
              borderTop: 3,
              borderColor: 'primary.main',
              verticalAlign: 'middle',
              mr: 0.75,
            }}
          />
          longest wait for a visit, in meetings
        </span>
      </Stack>
    </Card>
  );
}
