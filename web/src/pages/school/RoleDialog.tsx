import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, unwrap } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { ROLES, roleWords } from '../../words/people';
import { ClassChoice } from './ClassChoice';
import type { People, Person } from './PeoplePart';
import { useSend } from './useSend';

interface Props {
  programId: string;
  all: People;
  person: Person;
  onClose: () => void;
}

/** Another role or other classes for somebody; both count at once. */
export function RoleDialog({ programId, all, person, onClose }: Props) {
  const action = useSend();
  const [role, setRole] = useState(person.role);
  const [classes, setClasses] = useState<string[]>(person.classes);
  const save = async () => {
    const done = await action.run(() =>
      unwrap(
        api.PUT('/api/programs/{program}/people/{account}', {
          params: { path: { program: programId, account: person.id } },
          body: { role, classes: role === 'owner' ? [] : classes },
        }),
      ),
    );
    if (done) onClose();
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="role-title" fullWidth maxWidth="sm">
      <DialogTitle id="role-title" variant="h2">
        {person.displayName}: role and classes
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <OneOf
          name="Role"
          value={role}
          options={ROLES.map(([one]) => [one, roleWords(one)] as const)}
          onChoose={setRole}
        />
        <Typography>{ROLES.find(([one]) => one === role)?.[1]}</Typography>
        {role !== 'owner' && (
          <ClassChoice
            all={all}
            chosen={classes}
            problem={action.problemOf('classes')}
            onChoose={setClasses}
          />
        )}
        {action.error && <Alert severity="error">{action.error}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void save()}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
