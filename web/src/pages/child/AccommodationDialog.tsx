import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { api, basedOn, unwrap, type Checkpoint } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { SavedMeanwhile } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';

interface Props {
  classId: string;
  child: { id: string; name: string };
  checkpoint: Checkpoint;
  /** The version of what counts already; absent: as for everybody. */
  version: string | undefined;
  onClose: () => void;
}

/** What counts for one child at a checkpoint: a look-for of its own, or that it does not apply. */
export function AccommodationDialog({ classId, child, checkpoint, version, onClose }: Props) {
  const [applies, setApplies] = useState(checkpoint.applies);
  const [lookFor, setLookFor] = useState(checkpoint.applies ? checkpoint.lookFor : '');
  const [reason, setReason] = useState(checkpoint.accommodated ?? '');
  const action = useAction(classId);
  const params = { path: { class: classId, child: child.id, checkpoint: checkpoint.id } };
  const path = '/api/classes/{class}/children/{child}/accommodations/{checkpoint}';
  const close = (kept: boolean) => {
    if (kept) onClose();
  };
  // As it was when the form opened: what others save meanwhile is asked about.
  const [opened] = useState(version);
  const body = { lookFor: applies ? lookFor.trim() : '', reason };
  const save = (version: string | undefined) =>
    action.run(() => unwrap(api.PUT(path, { params, headers: basedOn(version), body }))).then(close);
  const end = () => action.run(() => unwrap(api.DELETE(path, { params })));
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="accommodation-title">
      <DialogTitle id="accommodation-title" component="h2">
        {checkpoint.name}: what counts for {child.name}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <OneOf
          name="Whether it applies"
          value={applies ? 'other' : 'none'}
          options={[
            ['other', 'Look for something else'],
            ['none', 'Does not apply'],
          ]}
          onChoose={(what) => setApplies(what === 'other')}
        />
        {applies && (
          <TextField
            label="What to look for"
            value={lookFor}
            multiline
            error={action.problemOf('lookFor') !== undefined}
            helperText={action.problemOf('lookFor') ?? `${lookFor.length} of 90 characters`}
            onChange={(event) => setLookFor(event.target.value)}
          />
        )}
        <TextField
          label="Why"
          value={reason}
          multiline
          error={action.problemOf('reason') !== undefined}
          helperText={action.problemOf('reason') ?? 'Shown where it is recorded, not on cards that go home.'}
          slotProps={{ htmlInput: { maxLength: 200 } }}
          onChange={(event) => setReason(event.target.value)}
        />
        {action.error && !action.problemOf('lookFor') && !action.problemOf('reason') && (
          <Alert severity="error">{action.error}</Alert>
        )}
        <SavedMeanwhile
          action={action}
          mine={body}
          says={(own) => [
            ['What to look for', own.lookFor || 'does not apply'],
            ['Why', own.reason],
          ]}
          onMine={(version) => void save(version)}
          onTheirs={onClose}
        />
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        {checkpoint.accommodated && (
          <Button disabled={action.busy} onClick={() => void end().then(close)}>
            As for everybody again
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="contained"
          loading={action.busy}
          disabled={reason.trim() === '' || (applies && lookFor.trim() === '')}
          onClick={() => void save(opened)}
        >
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
