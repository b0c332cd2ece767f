import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, asError, unwrap, type Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { FileButton, PageContent, Read } from '../../parts/page';
import { momentWords } from '../../words/dates';
import { deedWords } from '../../words/people';

type Entry = Schemas['AuditEntry'];

/** Who did what, when, from where: never what was in it. */
export function AuditPart() {
  const { programId = '' } = useParams();
  const of = { params: { path: { program: programId } } };
  const audit = $api.useQuery('get', '/api/programs/{program}/audit', of);
  return (
    <PageContent
      name="Audit"
      bar={<FileButton href={`/api/programs/${programId}/audit.csv`}>As a table (CSV)</FileButton>}
    >
      <Read query={audit} what="The audit is being looked up">
        {(page) => <Entries key={page.entries[0]?.id} programId={programId} first={page} />}
      </Read>
    </PageContent>
  );
}

function Entries({ programId, first }: { programId: string; first: Schemas['AuditView'] }) {
  const [older, setOlder] = useState<Entry[]>([]);
  const [more, setMore] = useState(first.more);
  const [problem, setProblem] = useState<string>();
  const entries = [...first.entries, ...older];
  const load = async () => {
    const before = entries.at(-1)?.id;
    try {
      const page = await unwrap(
        api.GET('/api/programs/{program}/audit', {
          params: { path: { program: programId }, query: before ? { before } : {} },
        }),
      );
      setOlder((all) => [...all, ...page.entries]);
      setMore(page.more);
      setProblem(undefined);
    } catch (error) {
      setProblem(asError(error).message);
    }
  };
  return (
    <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 860, justifyItems: 'start' }}>
      <Typography>
        What people did, never what was in it. Looking at children in lessons is not listed: observations say
        themselves who made them.
      </Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>When</TableCell>
            <TableCell>Who did what</TableCell>
            <TableCell>From</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {entries.map((entry) => (
            <TableRow key={entry.id}>
              <TableCell>{momentWords(entry.at)}</TableCell>
              <TableCell>
                {entry.by ?? 'The server'} {deedWords(entry.deed, entry.word)}
              </TableCell>
              <TableCell>{entry.network === '' ? 'this server' : entry.network}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {problem && <Alert severity="error">{problem}</Alert>}
      {more && <Button onClick={() => void load()}>Older ones</Button>}
    </Box>
  );
}
