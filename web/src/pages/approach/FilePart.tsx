import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import { ApiProblem, type Schemas } from '../../api/client';
import { FilePick } from '../../parts/FilePick';
import { useDirector } from '../../parts/useDirector';
import { FileButton, PageContent } from '../../parts/page';
import { useImport } from '../../parts/useImport';
import { count } from '../../words/text';
import { Changes } from './Changes';

/** The class's choices and changes as one file: to keep, to give to another class, to take in. */
export function FilePart() {
  const { classId = '' } = useParams();
  const file = useImport<Schemas['ClassFilePreview']>(classId, 'checklist/import');
  const director = useDirector(classId);
  const [done, setDone] = useState(false);
  const { preview } = file;
  const faults = file.error instanceof ApiProblem ? file.error.details : [];
  const todo = preview ? preview.changes.length + preview.choices + preview.drills + preview.languages : 0;
  return (
    <PageContent name="Checklist as a file">
      <Box sx={{ display: 'grid', gap: 2.5, maxWidth: 760 }}>
        <Box component="section" aria-label="Keep">
          <Typography variant="h2">Keep it</Typography>
          <Typography sx={{ pb: 1 }}>
            The schools of this class and everything it changed on the checklist, as one text file. No child
            is in it.
          </Typography>
          <FileButton href={`/api/classes/${classId}/checklist.toml`}>Download the file</FileButton>
        </Box>
        {director && (
          <Box component="section" aria-label="Take in" sx={{ display: 'grid', gap: 1 }}>
            <Typography variant="h2">Take one in</Typography>
            <Typography>
              It takes the place of this class’s schools and changes. What would read otherwise is shown
              first; no observation changes.
            </Typography>
            <FilePick
              label="Choose the file"
              name={file.file?.name}
              accept=".toml,.txt,text/plain"
              busy={file.busy}
              onStop={file.stop}
              onFile={(next) => {
                setDone(false);
                void file.look(next);
              }}
            />
            {file.error && (
              <Alert severity="error">
                {faults.length === 0 ? file.error.message : 'Nothing was changed. In the file:'}
                {faults.length > 0 && (
                  <Box component="ul" sx={{ m: 0, pl: 2 }}>
                    {faults.map((fault) => (
                      <li key={fault}>{fault}</li>
                    ))}
                  </Box>
                )}
              </Alert>
            )}
            {done && <Typography role="status">Taken in.</Typography>}
            {preview && !done && (
              <>
                <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
                  <Typography role="status" sx={{ flex: 1 }}>
                    {count(preview.choices, 'school')} would change, {count(preview.drills, 'drill')},{' '}
                    {count(preview.changes.length, 'text')} would read otherwise
                    {preview.languages > 0 && `, and cards in ${count(preview.languages, 'language')}`}.
                  </Typography>
                  <Button
                    variant="contained"
                    disabled={todo === 0 || file.busy}
                    onClick={() => void file.agree().then((kept) => setDone(kept !== undefined))}
                  >
                    {todo === 0 ? 'Nothing to take in' : 'Take it in'}
                  </Button>
                </Stack>
                <Changes changes={preview.changes} />
              </>
            )}
          </Box>
        )}
      </Box>
    </PageContent>
  );
}
