import Box from '@mui/material/Box';
import Paper from '@mui/material/Paper';
import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Instrument, Schemas, StringView } from '../../api/client';
import { FourStrings } from '../../parts/FourStrings';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { FileButton } from '../../parts/page';
import { waitWords } from '../../words/term';
import { TermRead } from './TermRead';

type Term = Schemas['TermView'];
type Child = Schemas['ChildThen'];

const ORDER = ['hold', 'bow', 'frame', 'tape'] as const;

/** Each child over the term, by seat: never by how far it is. */
export function ChildrenPart() {
  const [only, setOnly] = useState<Instrument>();
  return (
    <TermRead name="Children">
      {(term, classId) => (
        <Stack spacing={1} sx={{ maxWidth: 1000 }}>
          <Stack direction="row" spacing={1}>
            <InstrumentChips only={only} onOnly={setOnly} />
          </Stack>
          <Typography color="textSecondary">
            How far the four strings rang at first and now. The page is for a talk with the family: what was
            learned, in words, and what comes next.
          </Typography>
          <Paper variant="outlined">
            <Table size="small" aria-label="Children">
              <TableHead sx={{ display: { xs: 'none', sm: 'table-header-group' } }}>
                <TableRow>
                  <TableCell>Child</TableCell>
                  <TableCell>At first</TableCell>
                  <TableCell>Now</TableCell>
                  <TableCell>Reached last</TableCell>
                  <TableCell>Visits</TableCell>
                  <TableCell align="right">For the family</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {term.children
                  .filter(({ child }) => only === undefined || child.instrument === only)
                  .map((one) => (
                    <Row key={one.child.id} classId={classId} term={term} one={one} />
                  ))}
              </TableBody>
            </Table>
          </Paper>
        </Stack>
      )}
    </TermRead>
  );
}

function strings(glows: readonly number[]): StringView[] {
  return ORDER.map((strand, place) => {
    const glow = glows[place] ?? 0;
    return { strand, glow, seen: glow > 0, inWork: false, flags: [] };
  });
}

function Row({ classId, term, one }: { classId: string; term: Term; one: Child }) {
  const { child, changes, moved } = one;
  const last = one.reached.at(-1);
  const stage = term.stages.find(({ id }) => id === last?.stage);
  const lastly = stage?.name ?? 'none yet';
  const wide = { display: { xs: 'none', sm: 'table-cell' } } as const;
  return (
    <TableRow>
      <TableCell component="th" scope="row" sx={{ fontSize: '1rem' }}>
        {moved ? child.name : <Link to={`/class/${classId}/child/${child.id}`}>{child.name}</Link>}
        <Typography color="textSecondary">{child.instrument}</Typography>
        {changes.map(({ meeting, from, to }) => (
          <Typography key={meeting} color="textSecondary">
            {from} to {to}
          </Typography>
        ))}
        <Typography sx={{ display: { sm: 'none' } }}>{lastly}</Typography>
      </TableCell>
      <TableCell>
        <FourStrings strings={strings(one.strandsThen)} size="list" />
      </TableCell>
      <TableCell>
        <FourStrings strings={strings(one.strands)} size="list" />
      </TableCell>
      <TableCell sx={{ ...wide, fontSize: '1rem' }}>{lastly}</TableCell>
      <TableCell sx={{ ...wide, fontSize: '1rem' }}>
        {one.waits.looked}
        <Box sx={{ color: 'text.secondary' }}>{waitWords(one.waits)}</Box>
      </TableCell>
      <TableCell align="right">
        {moved ? (
          'in another class now'
        ) : (
          <FileButton href={`/api/classes/${classId}/children/${child.id}/term.pdf`}>Page</FileButton>
        )}
      </TableCell>
    </TableRow>
  );
}
