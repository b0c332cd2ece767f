import Box from '@mui/material/Box';
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
import type { Schemas } from '../../api/client';
import { Card } from '../../parts/page';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';

type Forecast = Schemas['ForecastView'];
type Band = Schemas['BandView'];

const TICKS = { fontSize: 14 };

/** Looks that come late as bars, the longest wait as a line; the same in a sentence. */
export function LateAhead({ read }: { read: Forecast }) {
  const { vars } = useTheme();
  const { meetings } = read;
  const { low, middle, high } = read.longestWait;
  const waits = low === high ? count(middle, 'meeting') : `${low} to ${count(high, 'meeting')}`;
  const words = `The longest wait for a visit is ${waits}, the mean ${read.meanWait.toFixed(1)}.`;
  return (
    <Card aria-label="Late looks and waits" sx={{ display: 'grid', gap: 1 }}>
      <Typography role="status" sx={{ fontSize: '1.1rem', fontWeight: 600 }}>
        {words}
      </Typography>
      <Box role="img" aria-label={`Late looks at each meeting. ${words}`}>
        <ChartsDataProvider
          height={260}
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
            {
              id: 'looks',
              position: 'left',
              min: 0,
              max: most(meetings, 10),
              tickMinStep: 1,
              label: 'late looks',
            },
            {
              id: 'wait',
              position: 'right',
              min: 0,
              max: Math.max(5, ...meetings.map(({ longestWait }) => longestWait.high)),
              tickMinStep: 1,
              label: 'meetings waited',
            },
          ]}
          series={[
            {
              type: 'bar',
              yAxisId: 'looks',
              label: 'looks that are late when a meeting begins',
              color: vars.palette.own.glow,
              data: meetings.map(({ late }) => late.middle),
              valueFormatter: (_, { dataIndex }) => bandWords(meetings[dataIndex]?.late, 'look'),
            },
            {
              type: 'line',
              yAxisId: 'wait',
              label: 'longest wait for a visit, in meetings',
              color: vars.palette.primary.main,
              showMark: false,
              curve: 'linear',
              data: meetings.map(({ longestWait }) => longestWait.middle),
              valueFormatter: (_, { dataIndex }) => bandWords(meetings[dataIndex]?.longestWait, 'meeting'),
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

/** The height of the picture: a few late looks are not drawn as if they were many. */
function most(meetings: Forecast['meetings'], least: number): number {
  return Math.max(least, ...meetings.map(({ late }) => late.middle));
}

/** `3 looks, 1 to 6 in eight of ten plays`. */
function bandWords(band: Band | undefined, one: string): string {
  if (!band) return '';
  const range = band.low === band.high ? '' : `, ${band.low} to ${band.high} in eight of ten plays`;
  return `${count(band.middle, one)}${range}`;
}
