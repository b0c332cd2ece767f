import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useTheme } from '@mui/material/styles';
import { BarChart } from '@mui/x-charts/BarChart';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Card } from '../../parts/page';
import { aboutWords, betweenWords, goalName, type Milestone } from '../../words/ahead';
import { dayWords } from '../../words/dates';
import { SECTIONS } from '../../words/looks';

type Forecast = Schemas['ForecastView'];

const TICKS = { fontSize: 14 };
const CLASS = 'class';
const DAY = 86_400_000;

/** When most of the class, or of a section, will come to what. */
export function StagesAhead({ read }: { read: Forecast }) {
  const [who, setWho] = useState(CLASS);
  const sections = [...new Set(read.milestones.flatMap(({ section }) => section ?? []))];
  const of = read.milestones.filter(({ section }) => (section ?? CLASS) === who);
  const rows = of.toSorted((one, other) => when(one).localeCompare(when(other)));
  const wide = useMediaQuery(useTheme().breakpoints.up('sm'));
  return (
    <Card aria-label="When most come to what" sx={{ display: 'grid', gap: 1 }}>
      {sections.length > 0 && (
        <TextField
          select
          label="Most of"
          size="small"
          value={who}
          sx={{ width: 220 }}
          onChange={(event) => setWho(event.target.value)}
        >
          <MenuItem value={CLASS}>the whole class</MenuItem>
          {sections.map((section) => (
            <MenuItem key={section} value={section}>
              the {SECTIONS[section].toLowerCase()}
            </MenuItem>
          ))}
        </TextField>
      )}
      {rows.length === 0 && (
        <Typography>
          Nothing new before the last meeting of the calendar: more minutes a meeting bring it.
        </Typography>
      )}
      {rows.length > 0 && wide && <Bands rows={rows} read={read} />}
      {rows.length > 0 && <Words rows={rows} />}
    </Card>
  );
}

/** The day by which rows are put in order. */
function when({ low, middle, high }: Milestone): string {
  return middle ?? high ?? `9999 ${low}`;
}

function day(date: string): number {
  return Date.parse(date) / DAY;
}

/** Each row as a bar from the early to the late days, darker up to the middle. */
function Bands({ rows, read }: { rows: Milestone[]; read: Forecast }) {
  const { vars } = useTheme();
  const first = day(read.meetings[0]?.day ?? '');
  const last = day(read.meetings.at(-1)?.day ?? '');
  const to = (date: string | undefined) => (date === undefined ? last : day(date));
  const words = (_: number | null, { dataIndex }: { dataIndex: number }) => {
    const row = rows[dataIndex];
    return row ? `${aboutWords(row)}, ${betweenWords(row)}` : '';
  };
  return (
    <Box role="img" aria-label="The days below, drawn along the calendar">
      <BarChart
        layout="horizontal"
        height={60 + 26 * rows.length}
        skipAnimation
        hideLegend
        yAxis={[{ scaleType: 'band', width: 250, data: rows.map(goalName), tickLabelStyle: TICKS }]}
        xAxis={[
          {
            height: 40,
            min: first,
            max: last,
            valueFormatter: (at: number) => dayWords(new Date(at * DAY).toISOString().slice(0, 10)),
            tickLabelStyle: TICKS,
          },
        ]}
        series={[
          {
            stack: 'band',
            color: 'transparent',
            data: rows.map(({ low }) => day(low)),
            valueFormatter: () => null,
          },
          {
            stack: 'band',
            label: 'half of the plays',
            color: vars.palette.primary.main,
            data: rows.map(({ low, middle }) => Math.max(to(middle) - day(low), 0.5)),
            valueFormatter: words,
          },
          {
            stack: 'band',
            color: vars.palette.own.glow,
            data: rows.map(({ middle, high }) => to(high) - to(middle)),
            valueFormatter: () => null,
          },
        ]}
      />
    </Box>
  );
}

function Words({ rows }: { rows: Milestone[] }) {
  return (
    <Table size="small" aria-label="When most come to what">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell>When</TableCell>
          <TableCell>Between</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={`${row.goal} ${row.stage ?? ''}`}>
            <TableCell component="th" scope="row" sx={{ fontSize: '1rem' }}>
              {goalName(row)}
            </TableCell>
            <TableCell sx={{ fontSize: '1rem' }}>{aboutWords(row)}</TableCell>
            <TableCell sx={{ fontSize: '1rem' }}>{betweenWords(row)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
