import Box from '@mui/material/Box';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { Read } from '../../parts/page';
import { dayWords, weekdayWords } from '../../words/dates';
import { SECTIONS } from '../../words/looks';
import { FITS } from '../../words/term';
import { count } from '../../words/text';
import { TermRead } from './TermRead';

type Came = Schemas['CameView'];
type Stage = Came['stages'][number];

/** A long computation; its answer serves for a while. */
const LONG = { staleTime: 60_000, placeholderData: keepPreviousData };

/** What the forecast had said at an earlier meeting, and what came. */
export function CamePart() {
  return (
    <TermRead name="Said and came">
      {(term, classId) =>
        term.meetings.length < 3 ? (
          <Typography sx={{ maxWidth: 560 }}>
            After the third meeting this says what the forecast would have said earlier, and what came.
          </Typography>
        ) : (
          <Held classId={classId} term={term} />
        )
      }
    </TermRead>
  );
}

function Held({ classId, term }: { classId: string; term: Schemas['TermView'] }) {
  const earlier = term.meetings.slice(0, -1);
  const [meeting, setMeeting] = useState(Math.max(1, Math.floor(term.meetings.length / 3)));
  const came = $api.useQuery(
    'get',
    '/api/classes/{class}/term/forecast',
    { params: { path: { class: classId }, query: { meeting } } },
    LONG,
  );
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 1000, gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <TextField
        select
        label="Said after the meeting of"
        size="small"
        value={meeting}
        sx={{ width: 260 }}
        onChange={(event) => setMeeting(Number(event.target.value))}
      >
        {earlier.map((then) => (
          <MenuItem key={then.meeting} value={then.meeting}>
            {weekdayWords(then.day)}
          </MenuItem>
        ))}
      </TextField>
      {came.isPlaceholderData && <LinearProgress aria-label="The term is being played anew" />}
      <Read query={came} what="The term is being played anew, some seconds">
        {(read) => <Stages read={read} />}
      </Read>
    </Box>
  );
}

function Stages({ read }: { read: Came }) {
  return (
    <>
      <Typography role="status" sx={{ fontSize: '1.2rem', fontWeight: 600 }}>
        {read.judged === 0
          ? 'Nothing can be judged yet: the days that were named are not over.'
          : `${read.within} of ${read.judged} came within the days that were named; eight of ten should.`}
      </Typography>
      <Table size="small" aria-label="Said and came">
        <TableHead>
          <TableRow>
            <TableCell>Most of them reach</TableCell>
            <TableCell>Said</TableCell>
            <TableCell>Came</TableCell>
            <TableCell>So</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {read.stages.map((stage) => (
            <TableRow key={`${stage.stage} ${stage.section ?? ''}`}>
              <TableCell component="th" scope="row">
                {stage.name}
                <Box component="span" sx={{ display: 'block', fontWeight: 400, color: 'text.secondary' }}>
                  {stage.section ? SECTIONS[stage.section] : 'the class'}
                </Box>
              </TableCell>
              <TableCell>{saidWords(stage)}</TableCell>
              <TableCell>{stage.came ? dayWords(stage.came) : 'not yet'}</TableCell>
              <TableCell>{FITS[stage.fit]}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography color="textSecondary">
        Played forward {count(read.plays, 'time')} from how the class stood on {weekdayWords(read.day)}, by
        what had been seen until then. The days hold eight of ten plays; most means four children of five.
        Weeks without a round make what came later than what was said.
      </Typography>
    </>
  );
}

/** `9 Nov to 4 Feb`, and where an end is missing, that it is open. */
function saidWords({ low, high }: Stage): string {
  if (low === undefined) return 'hardly before the last meeting';
  return high === undefined ? `from ${dayWords(low)} on` : `${dayWords(low)} to ${dayWords(high)}`;
}
