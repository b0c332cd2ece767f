import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Stack from '@mui/material/Stack';
import Switch from '@mui/material/Switch';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useOutletContext, useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas, type Session } from '../../api/client';
import { $api } from '../../api/queries';
import { Card, FileButton, PageContent, Read } from '../../parts/page';
import { useDraft } from '../../parts/useDraft';
import { dayWords, momentWords } from '../../words/dates';
import { count } from '../../words/text';
import { ConfirmDialog } from './ConfirmDialog';
import { useSend } from './useSend';

type Keeping = Schemas['KeepingView'];
type Days = Record<string, string>;

const FIELDS = [
  ['archiveAfterDays', 'A class is archived', 'days after its last day'],
  ['deleteAfterDays', 'An archived class is deleted', 'days after it was archived'],
  ['notesDays', 'Notes and answers to pain are cleared', 'days after they were written'],
  ['leftDays', 'A child who left is removed', 'days after it left'],
  ['auditDays', 'The audit is kept', 'days'],
] as const;

/** How long things are kept, what ends by itself next, and the end of the program. */
export function KeepingPart() {
  const { programId = '' } = useParams();
  const of = { params: { path: { program: programId } } };
  const keeping = $api.useQuery('get', '/api/programs/{program}/keeping', of);
  return (
    <PageContent name="Keeping">
      <Read query={keeping} what="What is kept is being looked up">
        {(read) => (
          <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
            <Ahead ahead={read.ahead} />
            <Spans programId={programId} read={read} />
            <Backup backup={read.backup} />
            <TheProgram programId={programId} />
          </Box>
        )}
      </Read>
    </PageContent>
  );
}

function endWords({ what, name, count: many }: Schemas['EndAhead']): string {
  switch (what) {
    case 'archive':
      return `${name ?? 'A class'} is archived`;
    case 'delete':
      return `${name ?? 'A class'} is deleted, with its children`;
    case 'notes':
      return `${count(many ?? 0, 'old note')} ${many === 1 ? 'is' : 'are'} cleared`;
    case 'left':
      return `${count(many ?? 0, 'child', 'children')} who left ${many === 1 ? 'is' : 'are'} removed`;
  }
}

/** Shown before it acts. */
function Ahead({ ahead }: { ahead: Keeping['ahead'] }) {
  return (
    <Card aria-label="What ends by itself">
      <Typography variant="h2">What ends by itself in the next year</Typography>
      {ahead.length === 0 ? (
        <Typography>Nothing.</Typography>
      ) : (
        ahead.map((one) => (
          <Typography key={`${one.on}${one.what}${one.class ?? ''}`}>
            <strong>{dayWords(one.on)}</strong> {endWords(one)}
          </Typography>
        ))
      )}
    </Card>
  );
}

function Spans({ programId, read }: { programId: string; read: Keeping }) {
  const typed = (set: Keeping['set']): Days =>
    Object.fromEntries(FIELDS.map(([key]) => [key, String(set[key])]));
  const draft = useDraft(
    { days: typed(read.set), secondFactor: read.set.secondFactor, mirror: read.set.mirror },
    read.version,
  );
  const { days, secondFactor, mirror } = draft.value;
  const action = useSend();
  const save = async () => {
    const number = (key: string) => Number(days[key]) || 0;
    const body = {
      archiveAfterDays: number('archiveAfterDays'),
      deleteAfterDays: number('deleteAfterDays'),
      notesDays: number('notesDays'),
      auditDays: number('auditDays'),
      leftDays: number('leftDays'),
      secondFactor,
      mirror,
    };
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/programs/{program}/keeping', {
          params: { path: { program: programId } },
          headers: basedOn(draft.basedOn),
          body,
        }),
      ),
    );
    if (saved) draft.saved(draft.value);
  };
  return (
    <Card aria-label="How long">
      <Typography variant="h2" sx={{ mb: 1 }}>
        How long things are kept
      </Typography>
      <Box sx={{ display: 'grid', gap: 1.5 }}>
        {FIELDS.map(([key, what, unit]) => (
          <TextField
            key={key}
            label={`${what}, ${unit}`}
            value={days[key] ?? ''}
            size="small"
            error={action.problemOf(key) !== undefined}
            helperText={action.problemOf(key)}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            onChange={(event) =>
              draft.change({ ...draft.value, days: { ...days, [key]: event.target.value } })
            }
          />
        ))}
        <FormControlLabel
          control={
            <Switch
              checked={secondFactor}
              onChange={(event) => draft.change({ ...draft.value, secondFactor: event.target.checked })}
            />
          }
          label="Everybody needs a second factor; classes stay shut to whoever has none"
        />
        <FormControlLabel
          control={
            <Switch
              checked={mirror}
              onChange={(event) => draft.change({ ...draft.value, mirror: event.target.checked })}
            />
          }
          label="The Mirror may use a device's camera, as your school's rules on pictures allow; never for substitutes"
        />
        {action.conflict && (
          <Alert
            severity="warning"
            action={
              <Button color="inherit" onClick={draft.drop}>
                Show it
              </Button>
            }
          >
            Somebody else saved this meanwhile. Look at it, then change it again.
          </Alert>
        )}
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <Button
          variant="contained"
          loading={action.busy}
          onClick={() => void save()}
          sx={{ justifySelf: 'start' }}
        >
          Save
        </Button>
      </Box>
    </Card>
  );
}

function Backup({ backup }: { backup: Keeping['backup'] }) {
  return (
    <Card aria-label="Backups">
      <Typography variant="h2">Backups of the server</Typography>
      {backup ? (
        <Typography>
          The last was made {momentWords(backup.madeAt)}
          {backup.provedAt
            ? ` and read back ${momentWords(backup.provedAt)}.`
            : '; it has not been read back yet.'}
        </Typography>
      ) : (
        <Typography>None is noted. Whoever runs the server sees to it.</Typography>
      )}
    </Card>
  );
}

function TheProgram({ programId }: { programId: string }) {
  const session = useOutletContext<Session>();
  const present = session.programs.find(({ id }) => id === programId)?.name ?? '';
  const [name, setName] = useState(present);
  const [ending, setEnding] = useState(false);
  const action = useSend();
  const of = { params: { path: { program: programId } } };
  const archive = `/api/programs/${programId}/archive.zip`;
  return (
    <Card aria-label="The program">
      <Typography variant="h2" sx={{ mb: 1 }}>
        The program
      </Typography>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap', alignItems: 'flex-start' }}>
        <TextField
          label="Name"
          value={name}
          size="small"
          error={action.error !== undefined}
          helperText={action.error}
          onChange={(event) => setName(event.target.value)}
          sx={{ flex: 1, minWidth: 220 }}
        />
        <Button
          variant="outlined"
          loading={action.busy}
          disabled={name === present}
          onClick={() =>
            void action.run(() => unwrap(api.PUT('/api/programs/{program}', { ...of, body: { name } })))
          }
        >
          Rename
        </Button>
      </Stack>
      <Typography sx={{ mt: 1.5, mb: 1, color: 'text.secondary' }}>
        The archive holds everything of the program, to keep or to move to another server.
      </Typography>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: 'wrap' }}>
        <FileButton href={archive}>Save the archive (zip)</FileButton>
        <Button color="error" onClick={() => setEnding(true)}>
          Delete everything
        </Button>
      </Stack>
      {ending && (
        <ConfirmDialog
          title={`Delete ${present}?`}
          name={present}
          action="Delete everything for good"
          onStay={() => setEnding(false)}
          send={async (confirm) => {
            await unwrap(api.POST('/api/programs/{program}/end', { ...of, body: { confirm } }));
            window.location.assign('/');
          }}
        >
          Every class goes, with all children, observations, instruments, and the accounts of people who
          belong to no other program. It cannot be undone.{' '}
          <FileButton href={archive}>Save the archive first</FileButton>
        </ConfirmDialog>
      )}
    </Card>
  );
}
