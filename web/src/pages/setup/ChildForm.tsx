import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, basedOn, unwrap, type RosterChild, type Schemas } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';

/** What an entry says, for comparing two. */
function says(entry: Schemas['RosterEntry']): Said[] {
  const yes = (flag: boolean | undefined) => (flag ? 'yes' : 'no');
  return [
    ['First name and a letter', entry.name],
    ['Grade', entry.grade ?? ''],
    ['School number', entry.number ?? ''],
    ['Instrument', capital(entry.instrument)],
    ['Near the front', yes(entry.nearFront)],
    ['Near an aisle', yes(entry.nearAisle)],
  ];
}

interface Props {
  classId: string;
  child: RosterChild;
  otherClasses: Schemas['OtherClass'][];
  onClose: () => void;
}

/** One child's entry: change it, leave, come back, move, remove. */
export function ChildForm({ classId, child, otherClasses, onClose }: Props) {
  const [entry, setEntry] = useState<Schemas['RosterEntry']>({
    name: child.name,
    instrument: child.instrument,
    grade: child.grade ?? '',
    number: child.number ?? '',
    nearFront: child.nearFront ?? false,
    nearAisle: child.nearAisle ?? false,
  });
  const [confirm, setConfirm] = useState<string>();
  const action = useAction(classId);
  // As it was when the form opened: what others save meanwhile is asked about.
  const [opened] = useState(child.version);
  const path = { class: classId, child: child.id };
  const send = async (work: () => Promise<unknown>) => {
    if (await action.run(work)) onClose();
  };
  const save = (version: string | undefined) =>
    send(() =>
      unwrap(
        api.PUT('/api/classes/{class}/children/{child}', {
          params: { path },
          headers: basedOn(version),
          body: entry,
        }),
      ),
    );
  const go = (body: Schemas['MembershipStatus']) =>
    send(() =>
      unwrap(api.POST('/api/classes/{class}/children/{child}/membership', { params: { path }, body })),
    );
  const remove = () =>
    send(() =>
      unwrap(
        api.POST('/api/classes/{class}/children/{child}/removal', {
          params: { path },
          body: { confirm: confirm ?? '' },
        }),
      ),
    );
  const text = (field: 'name' | 'grade' | 'number', label: string) => (
    <TextField
      label={label}
      value={entry[field]}
      error={action.problemOf(field) !== undefined}
      helperText={action.problemOf(field)}
      onChange={(event) => setEntry({ ...entry, [field]: event.target.value })}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="child-title">
      <DialogTitle id="child-title" variant="h2">
        {child.name}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { sm: '2fr 1fr 1fr' }, pt: 1 }}>
          {text('name', 'First name and a letter')}
          {text('grade', 'Grade')}
          {text('number', 'School number')}
        </Box>
        <OneOf
          name="Instrument"
          value={entry.instrument}
          options={INSTRUMENTS.map((one) => [one, capital(one)] as const)}
          onChoose={(instrument) => setEntry({ ...entry, instrument })}
        />
        {entry.instrument !== child.instrument && (
          <Typography>
            The history stays. Checkpoints that mean something else on the {entry.instrument} ask to be looked
            at again; the others keep their standing.
          </Typography>
        )}
        <Stack direction="row" spacing={0.75} role="group" aria-label="Wishes" sx={{ flexWrap: 'wrap' }}>
          <Toggle
            on={entry.nearFront ?? false}
            onClick={() => setEntry({ ...entry, nearFront: !entry.nearFront })}
          >
            Near the front
          </Toggle>
          <Toggle
            on={entry.nearAisle ?? false}
            onClick={() => setEntry({ ...entry, nearAisle: !entry.nearAisle })}
          >
            Near an aisle
          </Toggle>
        </Stack>
        <Stack
          direction="row"
          spacing={1}
          sx={{ flexWrap: 'wrap', borderTop: 1, borderColor: 'divider', pt: 1.5 }}
        >
          {child.leftOn ? (
            <Button variant="outlined" onClick={() => void go('here')}>
              Comes back
            </Button>
          ) : (
            <Button variant="outlined" onClick={() => void go('left')}>
              Leaves the class
            </Button>
          )}
          {otherClasses.map(({ id, name }) => (
            <Button key={id} variant="outlined" onClick={() => void go({ class: id })}>
              Moves to {name}
            </Button>
          ))}
          <Button color="error" onClick={() => setConfirm('')}>
            Remove this child’s data
          </Button>
        </Stack>
        {confirm !== undefined && (
          <Box sx={{ display: 'grid', gap: 1 }}>
            <Typography>
              Every observation, measure, loan and seat of {child.name} goes, for good. To keep the history,
              let the child leave the class instead. To go on, type the name.
            </Typography>
            <Stack direction="row" spacing={1}>
              <TextField
                label={`Type ${child.name}`}
                value={confirm}
                error={action.problemOf('confirm') !== undefined}
                helperText={action.problemOf('confirm')}
                onChange={(event) => setConfirm(event.target.value)}
              />
              <Button color="error" variant="outlined" onClick={() => void remove()}>
                Remove for good
              </Button>
            </Stack>
          </Box>
        )}
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <SavedMeanwhile
          action={action}
          mine={entry}
          says={says}
          onMine={(version) => void save(version)}
          onTheirs={onClose}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void save(opened)}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
