import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { ApiProblem, type Schemas } from '../../api/client';
import { count } from '../../words/text';
import { FilePick } from '../../parts/FilePick';
import { useImport } from '../../parts/useImport';

/** Instruments from a file: preview first, found again by their tags. */
export function InventoryImport({ classId, onDone }: { classId: string; onDone: () => void }) {
  const file = useImport<Schemas['InventoryPreview']>(classId, 'instruments/import');
  const { preview } = file;
  const todo = preview ? preview.new + preview.changed : 0;
  const problem = file.error instanceof ApiProblem ? [...file.error.fields.values()].join(' ') : '';
  return (
    <Box sx={{ display: 'grid', gap: 1.5, mb: 2 }}>
      <FilePick
        label="Choose the file"
        name={file.file?.name}
        accept=".csv,.tsv,.txt,text/csv"
        busy={file.busy}
        onStop={file.stop}
        onFile={(next) => void file.look(next)}
      />
      {file.error && (
        <Alert severity="error" sx={{ maxWidth: 720 }}>
          {problem || file.error.message}
        </Alert>
      )}
      {preview && (
        <>
          <Stack direction="row" spacing={2} role="status" sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
            <span>
              <strong>{preview.new}</strong> new, <strong>{preview.changed}</strong> changed,{' '}
              <strong>{preview.same}</strong> as they are, <strong>{preview.refused}</strong> left out
            </span>
            <Button
              variant="contained"
              disabled={todo === 0 || file.busy}
              onClick={() => void file.agree().then((done) => done && onDone())}
            >
              {todo === 0 ? 'Nothing to import' : `Import ${count(todo, 'instrument')}`}
            </Button>
          </Stack>
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {preview.rows
              .filter(({ action }) => action === 'refused')
              .slice(0, 100)
              .map((row) => (
                <li key={row.line}>
                  Line {row.line}, {row.tag || 'no tag'}: {row.reason}
                </li>
              ))}
          </Box>
        </>
      )}
    </Box>
  );
}
