import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../api/client';
import { SECTIONS, STRANDS } from '../../words/looks';
import { count } from '../../words/text';
import { TermRead } from './TermRead';

type Term = Schemas['TermView'];
type Waits = Schemas['WaitsView'];

/** How long looks waited, and which slips came and went. */
export function WaitsPart() {
  return (
    <TermRead name="Waits and slips">
      {(term) => (
        <Box sx={{ display: 'grid', gap: 3, maxWidth: 1000, gridTemplateColumns: 'minmax(0, 1fr)' }}>
          <WaitsTable term={term} />
          <SlipsTable term={term} />
        </Box>
      )}
    </TermRead>
  );
}

function meetings(number: number | undefined): string {
  return number === undefined ? '' : `${Number.isInteger(number) ? number : number.toFixed(1)}`;
}

function WaitsRow({ name, waits }: { name: string; waits: Waits }) {
  return (
    <TableRow>
      <TableCell component="th" scope="row">
        {name}
      </TableCell>
      <TableCell align="right">{waits.looked}</TableCell>
      <TableCell align="right">{meetings(waits.mean)}</TableCell>
      <TableCell align="right">{waits.longest}</TableCell>
    </TableRow>
  );
}

function WaitsTable({ term }: { term: Term }) {
  const minutes = term.meetings.reduce((sum, then) => sum + then.minutes, 0);
  return (
    <Box component="section" aria-label="How long looks waited">
      <Typography variant="h2">How long looks waited</Typography>
      <Typography color="textSecondary" sx={{ pb: 1 }}>
        In meetings from one look to the next, for each child; the present wait counts for the longest.
        Looking took {count(Math.round(minutes), 'minute')} in {count(term.meetings.length, 'meeting')}.
      </Typography>
      <Table size="small" aria-label="Waits">
        <TableHead>
          <TableRow>
            <TableCell>Where</TableCell>
            <TableCell align="right">Looks</TableCell>
            <TableCell align="right">Mean wait</TableCell>
            <TableCell align="right">Longest</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {term.sections.map(({ section, waits }) => (
            <WaitsRow key={section} name={`Visits to the ${SECTIONS[section].toLowerCase()}`} waits={waits} />
          ))}
          {term.strands.map(({ strand, waits }) => (
            <WaitsRow key={strand} name={STRANDS[strand]} waits={waits} />
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

function SlipsTable({ term }: { term: Term }) {
  return (
    <Box component="section" aria-label="Slips">
      <Typography variant="h2">Slips</Typography>
      {term.slips.length === 0 ? (
        <Typography>None was ticked.</Typography>
      ) : (
        <Table size="small" aria-label="Slips">
          <TableHead>
            <TableRow>
              <TableCell>Slip</TableCell>
              <TableCell align="right">Children</TableCell>
              <TableCell align="right">Still there</TableCell>
              <TableCell align="right">Gone after, meetings</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {term.slips.map((slip) => (
              <TableRow key={slip.slip}>
                <TableCell component="th" scope="row">
                  {slip.name}
                  <Box component="span" sx={{ display: 'block', fontWeight: 400, color: 'text.secondary' }}>
                    {slip.checkpointName}
                  </Box>
                </TableCell>
                <TableCell align="right">{slip.children}</TableCell>
                <TableCell align="right">{slip.still}</TableCell>
                <TableCell align="right">{meetings(slip.goneAfter)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}
