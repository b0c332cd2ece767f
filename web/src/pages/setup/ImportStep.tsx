import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableContainer from '@mui/material/TableContainer';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { ApiProblem, type Means, type Preview } from '../../api/client';
import { changesWords } from '../../words/reasons';
import { count, sentence, shortened } from '../../words/text';
import { FileColumns } from '../../parts/FileColumns';
import { FileLetters } from '../../parts/FileLetters';
import { FilePick } from '../../parts/FilePick';
import { PageContent } from '../../parts/page';
import { useGoOn } from '../../parts/useGoOn';
import { useImport } from '../../parts/useImport';
import { Choices, type How } from './ImportChoices';

const MEANS: [Means, string][] = [
  ['name', 'Whole name'],
  ['given', 'First name'],
  ['family', 'Family name'],
  ['instrument', 'Instrument'],
  ['grade', 'Grade'],
  ['number', 'School number'],
  ['group', 'Class or group'],
  ['nearFront', 'Near the front'],
  ['nearAisle', 'Near an aisle'],
  ['own', 'Bright Row id'],
  ['nothing', 'Leave out'],
];

const ACTIONS = { new: 'new', changed: 'changes', same: 'as it is', refused: 'left out' } as const;

/** The office's export may be that of a whole district. */
const LARGEST_ROSTER_MB = 32;

function queryOf({ mapping, letters, groups, instrument, keepNames }: How): Record<string, string> {
  return {
    ...(Object.keys(mapping).length > 0 && { mapping: JSON.stringify(mapping) }),
    ...(letters && { letters }),
    ...(groups && { groups: JSON.stringify(groups) }),
    ...(instrument && { instrument }),
    keepNames: String(keepNames),
  };
}

/** A file from the office: first what each row would become, then all of it or nothing. */
export function ImportStep() {
  const { classId = '' } = useParams();
  const goOn = useGoOn();
  const [how, setHow] = useState<How>({ mapping: {}, keepNames: false });
  const file = useImport<Preview>(classId, 'roster/import');
  const { preview } = file;
  const read = (next: How) => {
    setHow(next);
    if (file.file) void file.look(file.file, queryOf(next));
  };
  const agree = async () => {
    if (await file.agree(queryOf(how))) await goOn(`/class/${classId}/set-up/roster`);
  };
  const todo = preview ? preview.new + preview.changed : 0;
  const problem = file.error instanceof ApiProblem ? [...file.error.fields.values()].join(' ') : '';
  return (
    <PageContent
      name="Import"
      bar={
        <>
          <Typography variant="h2">Import a roster</Typography>
          <Button component={Link} to={`/class/${classId}/set-up/roster`}>
            Back to the roster
          </Button>
        </>
      }
    >
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'minmax(0, 1fr)' }}>
        <FilePick
          label="Choose the file"
          name={file.file?.name}
          accept=".csv,.tsv,.txt,.xlsx,.ods,.zip,text/csv"
          busy={file.busy}
          read={file.read}
          largestMb={LARGEST_ROSTER_MB}
          onStop={file.stop}
          onFile={(next) => {
            const begin: How = { mapping: {}, keepNames: how.keepNames };
            setHow(begin);
            void file.look(next, queryOf(begin));
          }}
        />
        {!file.file && (
          <Typography sx={{ maxWidth: 720 }}>
            A spreadsheet (.xlsx or .ods), a table saved as CSV, or the office’s OneRoster export as a zip,
            also that of a whole district. Nothing is stored before you have seen what each row becomes and
            agreed. Names are kept as a first name and one letter.
          </Typography>
        )}
        {file.error && (
          <Alert severity="error" sx={{ maxWidth: 720 }}>
            {problem || file.error.message}
          </Alert>
        )}
        {preview && (
          <>
            <FileLetters ways={preview.letters} onRead={(letters) => read({ ...how, letters })} />
            <FileColumns
              columns={preview.columns}
              names={MEANS}
              nothing="nothing"
              onMapping={(mapping) => read({ ...how, mapping })}
            />
            <Choices preview={preview} how={how} onRead={read} />
            <Stack
              direction="row"
              spacing={2}
              role="status"
              sx={{ flexWrap: 'wrap', alignItems: 'center', fontSize: '1.05rem' }}
            >
              <span>
                <strong>{preview.new}</strong> new, <strong>{preview.changed}</strong> changed,{' '}
                <strong>{preview.same}</strong> as they are, <strong>{preview.refused}</strong> left out
              </span>
              <Button
                variant="contained"
                disabled={todo === 0 || preview.needs !== undefined || file.busy}
                onClick={() => void agree()}
              >
                {todo === 0 ? 'Nothing to import' : `Import ${count(todo, 'child', 'children')}`}
              </Button>
            </Stack>
            {preview.needs && (
              <Alert severity="warning" sx={{ maxWidth: 720 }}>
                {preview.needs}
              </Alert>
            )}
            <OfficeSays preview={preview} />
            {preview.untouched.length > 0 && (
              <Typography>
                Not in this file, and kept as they are: {sentence(shortened(preview.untouched, 40))}
              </Typography>
            )}
            {preview.rows.length > 0 && <RowActions preview={preview} />}
          </>
        )}
      </Box>
    </PageContent>
  );
}

/** What an office's export says beside its rows. */
function OfficeSays({ preview: { leaving, disabled, ended } }: { preview: Preview }) {
  return (
    <>
      {leaving.length > 0 && (
        <Alert severity="info" sx={{ maxWidth: 720 }}>
          The office’s file says that they leave: <strong>{sentence(shortened(leaving, 40))}</strong> They
          stay in the class until you take them out on the roster; what was seen of them is kept.
        </Alert>
      )}
      {disabled + ended > 0 && (
        <Typography>
          Left out as the office’s file says:{' '}
          {[
            disabled > 0 && `${count(disabled, 'student')} switched off in its system`,
            ended > 0 && `${count(ended, 'student')} whose time in the class is over`,
          ]
            .filter(Boolean)
            .join(', ')}
          .
        </Typography>
      )}
    </>
  );
}

/** As many rows as a page shows without becoming slow; what wants a look comes first. */
const MAX_ROWS_SHOWN = 400;

function RowActions({ preview }: { preview: Preview }) {
  const order = { refused: 0, changed: 1, new: 2, same: 3 } as const;
  const rows = [...preview.rows].sort((a, b) => order[a.action] - order[b.action] || a.line - b.line);
  return (
    <>
      <TableContainer>
        <Table>
          <TableHead>
            <TableRow>
              <TableCell scope="col" align="right">
                Line
              </TableCell>
              <TableCell scope="col">Name</TableCell>
              <TableCell scope="col">Instrument</TableCell>
              <TableCell scope="col">What happens</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.slice(0, MAX_ROWS_SHOWN).map((row, index) => (
              <TableRow key={`${row.line} ${index}`} className={row.action === 'same' ? 'quiet' : undefined}>
                <TableCell align="right">{row.line}</TableCell>
                <TableCell>{row.name}</TableCell>
                <TableCell>{row.instrument ?? '–'}</TableCell>
                <TableCell>
                  <strong>{ACTIONS[row.action]}</strong>
                  {(row.reason || row.changes.length > 0) && `: ${row.reason ?? changesWords(row.changes)}`}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </TableContainer>
      {rows.length > MAX_ROWS_SHOWN && (
        <Typography>… and {rows.length - MAX_ROWS_SHOWN} more rows of the same kinds.</Typography>
      )}
    </>
  );
}
