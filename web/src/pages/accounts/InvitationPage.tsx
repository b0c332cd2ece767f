import Alert from '@mui/material/Alert';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, asError, unwrap, type Schemas } from '../../api/client';
import { queryClient, sessionQuery } from '../../api/queries';
import { Sheet } from '../../parts/FormPanel';
import { Read } from '../../parts/page';
import { useForm } from '../../parts/useForm';
import { momentWords } from '../../words/dates';
import { listed } from '../../words/text';
import { ROLES, roleWords } from '../../words/people';
import { OnADoor } from './OnADoor';

type Invited = Schemas['Invited'];

/** Everything that was read before is another's: the application begins anew. */
function begin(): void {
  queryClient.clear();
  window.location.assign('/');
}

/** Whoever follows a link to come in. The secret stands behind the `#`, where no server reads it. */
export function InvitationPage() {
  const [secret] = useState(() => window.location.hash.slice(1));
  const invited = useQuery({
    queryKey: ['invitation', secret],
    queryFn: () => unwrap(api.POST('/api/links/invitation/look', { body: { secret } })),
    retry: false,
  });
  const session = useQuery(sessionQuery);
  return (
    <OnADoor>
      {invited.error ? (
        <Alert severity="info">{asError(invited.error).message}</Alert>
      ) : (
        <Read query={invited} what="The invitation is being looked up">
          {(invitation) =>
            invitation.role === 'substitute' ? (
              <Substitute secret={secret} invited={invitation} />
            ) : session.data && session.data.email !== '' ? (
              <Known secret={secret} invited={invitation} name={session.data.displayName} />
            ) : (
              <Newcomer secret={secret} invited={invitation} />
            )
          }
        </Read>
      )}
    </OnADoor>
  );
}

function leadOf({ by, role, classes }: Invited): string {
  const may = ROLES.find(([one]) => one === role)?.[1] ?? '';
  const where = role === 'owner' ? '' : ` You are given ${listed(classes)}.`;
  return `${by} invites you as ${roleWords(role).toLowerCase()}. ${may}${where}`;
}

interface Props {
  secret: string;
  invited: Invited;
}

/** A tablet that is to open one class until a time. */
function Substitute({ secret, invited }: Props) {
  const open = useMutation({
    mutationFn: () => unwrap(api.POST('/api/links/invitation', { body: { secret } })),
    onSuccess: begin,
  });
  return (
    <Sheet
      title={`Welcome, ${invited.name}`}
      lead={`${invited.by} lets you into ${listed(invited.classes)} until ${invited.until ? momentWords(invited.until) : 'the end of today'}.`}
      error={open.error ? asError(open.error).message : undefined}
      action="Open the class"
      sending={open.isPending}
      onSubmit={(event) => {
        event.preventDefault();
        open.mutate();
      }}
    >
      <Typography>
        You have the room, the round, the next lesson and the tapes. What you see is kept with your name. When
        the time is over nothing of the class stays on this tablet.
      </Typography>
    </Sheet>
  );
}

/** Somebody who is signed in. */
function Known({ secret, invited, name }: Props & { name: string }) {
  const join = useMutation({
    mutationFn: () => unwrap(api.POST('/api/links/invitation', { body: { secret } })),
    onSuccess: begin,
  });
  return (
    <Sheet
      title={invited.programName}
      lead={leadOf(invited)}
      error={join.error ? asError(join.error).message : undefined}
      action={`Come in as ${name}`}
      sending={join.isPending}
      onSubmit={(event) => {
        event.preventDefault();
        join.mutate();
      }}
    >
      {null}
    </Sheet>
  );
}

/** Somebody without an account yet. */
function Newcomer({ secret, invited }: Props) {
  const form = useForm({ displayName: '', email: '', password: '' }, async (body) => {
    await unwrap(api.POST('/api/links/invitation', { body: { secret, ...body } }));
    begin();
  });
  return (
    <Sheet
      title={invited.programName}
      lead={leadOf(invited)}
      error={form.error}
      action="Make my account"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField
        label="Your name, as colleagues read it"
        autoComplete="name"
        required
        {...form.field('displayName')}
      />
      <TextField label="E-mail" type="email" autoComplete="username" required {...form.field('email')} />
      <TextField
        label="Password, at least 12 characters"
        type="password"
        autoComplete="new-password"
        required
        {...form.field('password')}
      />
    </Sheet>
  );
}
