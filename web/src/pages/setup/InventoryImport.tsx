import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { ApiProblem, type Schemas } from '../../api/client';
import { count } from '../../words/text';
import { FileColumns } from '../../parts/FileColumns';
import { FileLetters } from '../../parts/FileLetters';
import { FilePick } from '../../parts/FilePick';
import { useImport } from '../../parts/useImport';

/** What a column can hold: the headings of a file of ours. */
const MEANS = [
  ['Tag', 'Tag'],
  ['Kind', 'Instrument'],
  ['Size', 'Size'],
  ['String length mm', 'String length, mm'],
  ['String height mm', 'String height, mm'],
  ['Condition', 'Condition'],
  ['Note', 'Note'],
  ['Since', 'In this condition since'],
  ['Bow', 'Has a bow'],
  ['Support', 'Support'],
  ['Pin anchor', 'Pin anchor'],
  ['Case', 'Has a case'],
  ['nothing', 'Leave out'],
] as const;

/** How the file is read; every change looks at it again. */
interface How {
  mapping?: Record<string, string>;
  letters?: string;
}

function queryOf({ mapping, letters }: How): Record<string, string> {
  const said = Object.entries(mapping ?? {}).map(([heading, means]) => [
    heading,
    means === 'nothing' ? null : means,
  ]);
  return {
    ...(mapping && { mapping: JSON.stringify(Object.fromEntries(said)) }),
    ...(letters && { letters }),
  };
}

/** Instruments from a file: preview first, found again by their tags. */
export function InventoryImport({ classId, onDone }: { classId: string; onDone: () => void }) {
  const file = useImport<Schemas['InventoryPreview']>(classId, 'instruments/import');
  const { preview } = file;
  const [how, setHow] = useState<How>({});
  const read = (next: How) => {
    setHow(next);
    if (file.file) void file.look(file.file, queryOf(next));
  };
  const columns = (preview?.columns ?? []).map((column) => ({ ...column, means: column.means ?? 'nothing' }));
  const todo = preview ? preview.new + preview.changed : 0;
  const problem = file.error instanceof ApiProblem ? [...file.error.fields.values()].join(' ') : '';
  return (
    <Box sx={{ display: 'grid', gap: 1.5, mb: 2 }}>
      <FilePick
        label="Choose the file"
        name={file.file?.name}
        accept=".csv,.tsv,.txt,.xlsx,.ods,text/csv"
        busy={file.busy}
        onStop={file.stop}
        onFile={(next) => {
          setHow({});
          void file.look(next);
        }}
      />
      {file.error && (
        <Alert severity="error" sx={{ maxWidth: 720 }}>
          {problem || file.error.message}
        </Alert>
      )}
      {preview && (
        <>
          <FileLetters ways={preview.letters} onRead={(letters) => read({ ...how, letters })} />
          <FileColumns
            columns={columns}
            names={MEANS}
            nothing="nothing"
            onMapping={(mapping) => read({ ...how, mapping })}
          />
          {preview.needs && (
            <Alert severity="warning" sx={{ maxWidth: 720 }}>
              {preview.needs}
            </Alert>
          )}
          <Stack direction="row" spacing={2} role="status" sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
            <span>
              <strong>{preview.new}</strong> new, <strong>{preview.changed}</strong> changed,{' '}
              <strong>{preview.same}</strong> as they are, <strong>{preview.refused}</strong> left out
            </span>
            <Button
              variant="contained"
              disabled={todo === 0 || preview.needs !== undefined || file.busy}
              onClick={() => void file.agree(queryOf(how)).then((done) => done && onDone())}
            >
              {todo === 0 ? 'Nothing to import' : `Import ${count(todo, 'instrument')}`}
            </Button>
          </Stack>
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {preview.rows
              .filter(({ action, readAs }) => action === 'refused' || readAs !== undefined)
              .slice(0, 100)
              .map((row) => (
                <li key={row.line}>
                  Line {row.line}, {row.tag || 'no tag'}: {[row.readAs, row.reason].filter(Boolean).join(' ')}
                </li>
              ))}
          </Box>
        </>
      )}
    </Box>
  );
}
