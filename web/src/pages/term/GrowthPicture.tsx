import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import { ChartsReferenceLine } from '@mui/x-charts/ChartsReferenceLine';
import { LineChart, type LineSeries } from '@mui/x-charts/LineChart';
import type { Schemas } from '../../api/client';
import { Card } from '../../parts/page';
import { Toggle } from '../../parts/Toggle';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { dayWords } from '../../words/dates';
import { INSTRUMENTS, SECTIONS, STRANDS } from '../../words/looks';
import { holidayWords, percent } from '../../words/term';

type Term = Schemas['TermView'];

const TICKS = { fontSize: 14 };
const ORDER = ['hold', 'bow', 'frame', 'tape'] as const;
const SHAPES = ['circle', 'square', 'triangle', 'diamond'] as const;

function noon(day: string): Date {
  return new Date(`${day}T12:00:00`);
}

interface Props {
  term: Term;
  meeting: number;
  onMeeting: (meeting: number) => void;
}

/** The room's brightness over the meetings: a band for each strand, a line for each section, holidays as lines across. */
export function GrowthPicture({ term, meeting, onMeeting }: Props) {
  const { vars } = useTheme();
  const [sections, setSections] = useLocalSetting('term-sections', ['shown', 'hidden']);
  const { meetings } = term;
  const { own, primary, text } = vars.palette;
  const bands = [own.glowEdge, own.glow, own.glowSoft, own.warm];
  const lines = [primary.main, own.flag, text.primary, text.secondary];
  const strands: LineSeries[] = ORDER.map((strand, place) => ({
    id: strand,
    stack: 'room',
    area: true,
    showMark: false,
    curve: 'linear',
    label: STRANDS[strand],
    color: bands[place] ?? own.glow,
    data: meetings.map(({ strands: learned }) => (learned[place] ?? 0) / 4),
    valueFormatter: (_, { dataIndex }) => percent(meetings[dataIndex]?.strands[place] ?? 0),
  }));
  const here = INSTRUMENTS.filter((section) => meetings.some((then) => then.sections[section] !== undefined));
  const ofSections: LineSeries[] = here.map((section, place) => ({
    id: section,
    curve: 'linear',
    showMark: true,
    shape: SHAPES[place % SHAPES.length] ?? 'circle',
    label: SECTIONS[section],
    color: lines[place % lines.length] ?? text.primary,
    data: meetings.map((then) => then.sections[section] ?? null),
    valueFormatter: (value) => (value === null ? '' : percent(value)),
  }));
  const bright = (then: Term['meetings'][number] | undefined) =>
    then ? then.strands.reduce((sum, learned) => sum + learned, 0) / 4 : 0;
  const most = Math.max(...meetings.flatMap((then) => [bright(then), ...Object.values(then.sections)]));
  const chosen = meetings.find((then) => then.meeting === meeting);
  const words = `The room is ${percent(bright(meetings.at(-1)))} bright after ${meetings.length} meetings; after the first it was ${percent(bright(meetings[0]))}.`;
  return (
    <Card aria-label="The room over the term" sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 1.5 }}>
        <Typography sx={{ flex: 1, minWidth: 220, fontSize: '1.1rem', fontWeight: 600 }}>{words}</Typography>
        <Toggle
          on={sections === 'shown'}
          onClick={() => setSections(sections === 'shown' ? 'hidden' : 'shown')}
        >
          Sections
        </Toggle>
      </Box>
      <Box role="img" aria-label={`How bright the room was after each meeting. ${words}`}>
        <LineChart
          height={340}
          skipAnimation
          margin={{ right: 24 }}
          xAxis={[
            {
              scaleType: 'time',
              height: 40,
              data: meetings.map(({ day }) => noon(day)),
              valueFormatter: (at: Date) => dayWords(at.toISOString()),
              tickLabelStyle: TICKS,
            },
          ]}
          yAxis={[
            {
              min: 0,
              max: Math.min(1, Math.max(0.2, Math.ceil(most * 10) / 10)),
              width: 62,
              valueFormatter: percent,
              tickLabelStyle: TICKS,
            },
          ]}
          series={[...strands, ...(sections === 'shown' ? ofSections : [])]}
          onAxisClick={(_, at) => {
            const found = at?.dataIndex === undefined ? undefined : meetings[at.dataIndex];
            if (found) onMeeting(found.meeting);
          }}
          slotProps={{ legend: { sx: { fontSize: '1rem' } } }}
        >
          {term.holidays.map((holiday) => (
            <ChartsReferenceLine
              key={holiday.first}
              x={noon(holiday.first)}
              label={holidayWords(holiday)}
              labelAlign="start"
              lineStyle={{ stroke: text.secondary, strokeDasharray: '3 5' }}
              labelStyle={{ fontSize: 13, fill: text.secondary }}
            />
          ))}
          {chosen && (
            <ChartsReferenceLine x={noon(chosen.day)} lineStyle={{ stroke: text.primary, strokeWidth: 2 }} />
          )}
        </LineChart>
      </Box>
    </Card>
  );
}
