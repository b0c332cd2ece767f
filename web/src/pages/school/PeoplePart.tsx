import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { Card, FileButton, PageContent, Read } from '../../parts/page';
import { momentWords } from '../../words/dates';
import { listed } from '../../words/text';
import { roleWords } from '../../words/people';
import { InviteDialog } from './InviteDialog';
import { LinkDialog, type NewLink } from './LinkDialog';
import { RoleDialog } from './RoleDialog';
import { useSend } from './useSend';

export type People = Schemas['PeopleView'];
export type Person = Schemas['PersonView'];

/** Who is in the program, who is invited, and letting somebody in. */
export function PeoplePart() {
  const { programId = '' } = useParams();
  const of = { params: { path: { program: programId } } };
  const people = $api.useQuery('get', '/api/programs/{program}/people', of);
  const [inviting, setInviting] = useState<'colleague' | 'substitute'>();
  const [link, setLink] = useState<NewLink>();
  return (
    <PageContent
      name="People"
      bar={
        <>
          <Button variant="contained" onClick={() => setInviting('colleague')}>
            Invite a colleague
          </Button>
          <Button variant="outlined" onClick={() => setInviting('substitute')}>
            Let a substitute in
          </Button>
          <FileButton href={`/api/programs/${programId}/people.vcf`}>Save as contacts</FileButton>
        </>
      }
    >
      <Read query={people} what="The people are being looked up">
        {(all) => (
          <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 860 }}>
            {all.people.length === 1 && (
              <Alert severity="info">
                You are alone in this program, and its last owner: nobody could let you in again but the
                server’s own command line. Invite a colleague as a second owner.
              </Alert>
            )}
            {all.people.map((person) => (
              <OnePerson key={person.id} programId={programId} all={all} person={person} onLink={setLink} />
            ))}
            <Invitations programId={programId} all={all} />
            {inviting && (
              <InviteDialog
                programId={programId}
                all={all}
                kind={inviting}
                onDone={(made) => {
                  setInviting(undefined);
                  setLink(made);
                }}
                onClose={() => setInviting(undefined)}
              />
            )}
            {link && <LinkDialog link={link} onClose={() => setLink(undefined)} />}
          </Box>
        )}
      </Read>
    </PageContent>
  );
}

function classesOf({ classes }: People, ids: readonly string[]): string {
  const names = classes.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
  return names.length === 0 ? 'no open class' : listed(names);
}

interface OneProps {
  programId: string;
  all: People;
  person: Person;
  onLink: (link: NewLink) => void;
}

function OnePerson({ programId, all, person, onLink }: OneProps) {
  const action = useSend();
  const [changing, setChanging] = useState(false);
  const [going, setGoing] = useState(false);
  const of = { params: { path: { program: programId, account: person.id } } };
  const until = person.until ? `, until ${momentWords(person.until)}` : '';
  const where = person.role === 'owner' ? 'all classes' : classesOf(all, person.classes);
  const seen = person.lastUsedAt ? `last here ${momentWords(person.lastUsedAt)}` : 'not signed in';
  const renew = async () => {
    let made: Schemas['PasswordLink'] | undefined;
    await action.run(async () => {
      made = await unwrap(api.POST('/api/programs/{program}/people/{account}/password-link', of));
    });
    if (made)
      onLink({ kind: 'password', name: person.displayName, secret: made.secret, until: made.expiresAt });
  };
  const remove = async () => {
    const gone = await action.run(() => unwrap(api.DELETE('/api/programs/{program}/people/{account}', of)));
    if (gone) setGoing(false);
  };
  return (
    <Card aria-label={person.displayName}>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Box sx={{ flex: 1, minWidth: 220 }}>
          <Typography variant="h2">
            {person.displayName}
            {person.you && ' (you)'}
          </Typography>
          <Typography>
            {roleWords(person.role)}, {where}
            {until}
          </Typography>
          <Typography sx={{ color: 'text.secondary' }}>
            {[person.email, seen, person.secondFactor && 'with a second factor'].filter(Boolean).join(' · ')}
          </Typography>
        </Box>
        {person.lastOwner ? (
          <Typography sx={{ color: 'text.secondary', maxWidth: 260 }}>
            The last owner stays one. Make somebody else an owner first.
          </Typography>
        ) : (
          <>
            {person.role !== 'substitute' && (
              <Button onClick={() => setChanging(true)}>Role and classes</Button>
            )}
            {person.email !== '' && !person.you && (
              <Button loading={action.busy} onClick={() => void renew()}>
                New password
              </Button>
            )}
            <Button color="error" onClick={() => setGoing(true)}>
              {person.you ? 'Leave' : 'Let go'}
            </Button>
          </>
        )}
      </Stack>
      {going && (
        <Alert
          severity="warning"
          sx={{ mt: 1 }}
          action={
            <>
              <Button color="inherit" onClick={() => setGoing(false)}>
                Stay
              </Button>
              <Button color="inherit" loading={action.busy} onClick={() => void remove()}>
                {person.you ? 'Leave now' : 'Let go now'}
              </Button>
            </>
          }
        >
          {person.you ? 'You are' : `${person.displayName} is`} signed out of this program at once. What was
          recorded stays, with the name beside it.
        </Alert>
      )}
      {action.error && <Alert severity="error">{action.error}</Alert>}
      {changing && (
        <RoleDialog programId={programId} all={all} person={person} onClose={() => setChanging(false)} />
      )}
    </Card>
  );
}

function Invitations({ programId, all }: { programId: string; all: People }) {
  const action = useSend();
  if (all.invitations.length === 0) return null;
  const revoke = (invitation: string) =>
    action.run(() =>
      unwrap(
        api.DELETE('/api/programs/{program}/invitations/{invitation}', {
          params: { path: { program: programId, invitation } },
        }),
      ),
    );
  return (
    <Box component="section" aria-label="Invited">
      <Typography variant="h2" sx={{ mt: 1, mb: 1 }}>
        Invited, not here yet
      </Typography>
      {all.invitations.map((one) => (
        <Stack
          key={one.id}
          direction="row"
          spacing={1}
          sx={{ alignItems: 'center', borderTop: 1, borderColor: 'divider', py: 0.5 }}
        >
          <Typography sx={{ flex: 1 }}>
            {one.name === '' ? 'Somebody' : one.name}: {roleWords(one.role).toLowerCase()},{' '}
            {one.role === 'owner' ? 'all classes' : classesOf(all, one.classes)}; the{' '}
            {one.until ? 'code' : 'link'} is good until {momentWords(one.expiresAt)}
          </Typography>
          <Button loading={action.busy} onClick={() => void revoke(one.id)}>
            Take back
          </Button>
        </Stack>
      ))}
      {action.error && <Alert severity="error">{action.error}</Alert>}
    </Box>
  );
}
