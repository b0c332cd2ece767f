import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, unwrap, type Schemas } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { ROLES, roleWords } from '../../words/people';
import { ClassChoice } from './ClassChoice';
import type { NewLink } from './LinkDialog';
import type { People } from './PeoplePart';
import { useSend } from './useSend';

type Role = Schemas['Role'];

interface Props {
  programId: string;
  all: People;
  kind: 'colleague' | 'substitute';
  onDone: (link: NewLink) => void;
  onClose: () => void;
}

/** A moment as a field for date and time shows it, where the reader is. */
function localMoment(at: string): string {
  const date = new Date(at);
  return new Date(date.getTime() - date.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** Whom to let in, to what: answers a link for a colleague, a code for a substitute’s tablet. */
export function InviteDialog({ programId, all, kind, onDone, onClose }: Props) {
  const action = useSend();
  const substitute = kind === 'substitute';
  const [role, setRole] = useState<Role>(substitute ? 'substitute' : 'director');
  const [name, setName] = useState('');
  const first = all.classes[0];
  const [classes, setClasses] = useState<string[]>(
    all.classes.length === 1 || substitute ? (first ? [first.id] : []) : [],
  );
  const dayEnds = all.classes.find(({ id }) => id === classes[0])?.dayEndsAt;
  const [until, setUntil] = useState<string>();
  const invite = async () => {
    let made: Schemas['NewInvitation'] | undefined;
    await action.run(async () => {
      made = await unwrap(
        api.POST('/api/programs/{program}/invitations', {
          params: { path: { program: programId } },
          body: {
            role,
            name,
            classes: role === 'owner' ? [] : classes,
            ...(substitute && until !== undefined && { until: new Date(until).toISOString() }),
          },
        }),
      );
    });
    if (made)
      onDone({
        kind: substitute ? 'code' : 'invitation',
        name,
        secret: made.secret,
        until: made.until ?? made.expiresAt,
      });
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="invite-title" fullWidth maxWidth="sm">
      <DialogTitle id="invite-title" variant="h2">
        {substitute ? 'Let a substitute in' : 'Invite a colleague'}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        {substitute ? (
          <Typography>
            A code opens one class on the school’s tablet: room, round, the next lesson with its cautions, and
            the tapes. No notes, no answers to pain, no history. At its time it ends by itself.
          </Typography>
        ) : (
          <>
            <OneOf
              name="Role"
              value={role}
              options={ROLES.map(([one]) => [one, roleWords(one)] as const)}
              onChoose={setRole}
            />
            <Typography>{ROLES.find(([one]) => one === role)?.[1]}</Typography>
          </>
        )}
        <TextField
          label={
            substitute
              ? 'The substitute’s name, as it stands beside what they see'
              : 'Who it is for (only you read it)'
          }
          value={name}
          required={substitute}
          error={action.problemOf('name') !== undefined}
          helperText={action.problemOf('name')}
          onChange={(event) => setName(event.target.value)}
        />
        {role !== 'owner' && (
          <ClassChoice
            all={all}
            chosen={classes}
            one={substitute}
            problem={action.problemOf('classes')}
            onChoose={setClasses}
          />
        )}
        {substitute && dayEnds && (
          <TextField
            label="Until"
            type="datetime-local"
            value={until ?? localMoment(dayEnds)}
            slotProps={{ inputLabel: { shrink: true } }}
            error={action.problemOf('until') !== undefined}
            helperText={
              action.problemOf('until') ?? 'The end of today where the class meets, if you leave it.'
            }
            onChange={(event) => setUntil(event.target.value)}
          />
        )}
        {action.error && !['name', 'classes', 'until'].some(action.problemOf) && (
          <Alert severity="error">{action.error}</Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void invite()}>
          {substitute ? 'Show the code' : 'Make the link'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
