import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Stack from '@mui/material/Stack';
import Switch from '@mui/material/Switch';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, queryClient, sessionQuery } from '../../api/queries';
import { dropAnswers } from '../../offline/cachedAnswers';
import { Sheet } from '../../parts/FormPanel';
import { Card, PageContent, Read } from '../../parts/page';
import { useForm } from '../../parts/useForm';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { useSent } from '../../parts/useSent';
import { momentWords } from '../../words/dates';
import { Passkeys } from './Passkeys';
import { SecondFactor } from './SecondFactor';

type Account = Schemas['AccountView'];

const account = $api.queryOptions('get', '/api/account');

async function readAgain(): Promise<void> {
  await Promise.all([
    queryClient.invalidateQueries({ queryKey: account.queryKey }),
    queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey }),
  ]);
}

/** One's own account: name and address, password, second factor, devices. */
export function AccountPage() {
  const read = $api.useQuery('get', '/api/account');
  return (
    <PageContent name="Account" bar={<Typography variant="h1">Account</Typography>}>
      <Read query={read} what="Your account is being looked up">
        {(data) => (
          <Box sx={{ display: 'grid', gap: 2, maxWidth: 620 }}>
            {data.demo && (
              <Alert severity="info">
                This is one of the demo’s people. Everybody knows the password, so it signs in on this machine
                only, and neither password nor second factor change.
              </Alert>
            )}
            <Devices devices={data.devices} />
            <ThisDevice />
            <NameAndAddress account={data} />
            {!data.demo && <Password />}
            {!data.demo && <SecondFactor account={data} onDone={readAgain} />}
            {!data.demo && <Passkeys account={data} onDone={readAgain} />}
          </Box>
        )}
      </Read>
    </PageContent>
  );
}

function Devices({ devices }: { devices: Account['devices'] }) {
  const action = useSent(readAgain);
  const end = (device: string) =>
    action.run(() => unwrap(api.DELETE('/api/account/devices/{device}', { params: { path: { device } } })));
  return (
    <Card aria-label="Devices signed in">
      <Typography variant="h2" sx={{ mb: 1 }}>
        Devices signed in
      </Typography>
      {devices.map((one) => (
        <Stack
          key={one.id}
          direction="row"
          spacing={1}
          sx={{ alignItems: 'center', borderTop: 1, borderColor: 'divider', py: 0.5 }}
        >
          <Box sx={{ flex: 1 }}>
            <Typography>
              {one.device}
              {one.this && ' (this one)'}
            </Typography>
            <Typography sx={{ color: 'text.secondary' }}>
              Used {momentWords(one.lastUsedAt)}; ends {momentWords(one.endsAt)} at the latest
            </Typography>
          </Box>
          {!one.this && (
            <Button loading={action.busy} onClick={() => void end(one.id)}>
              Sign it out
            </Button>
          )}
        </Stack>
      ))}
      {devices.length > 1 && (
        <Button
          variant="outlined"
          loading={action.busy}
          onClick={() => void action.run(() => unwrap(api.DELETE('/api/account/devices')))}
          sx={{ mt: 1 }}
        >
          Sign out all others
        </Button>
      )}
      {action.error && <Alert severity="error">{action.error}</Alert>}
    </Card>
  );
}

/** What this device may keep. */
function ThisDevice() {
  const [shared, setShared] = useLocalSetting('shared', ['no', 'yes']);
  return (
    <Card aria-label="This device">
      <Typography variant="h2">This device</Typography>
      <FormControlLabel
        control={
          <Switch
            checked={shared === 'yes'}
            onChange={(event) => {
              setShared(event.target.checked ? 'yes' : 'no');
              if (event.target.checked) void dropAnswers().catch(() => undefined);
            }}
          />
        }
        label="Others use it too: keep nothing here but what waits to be sent"
      />
      {shared === 'yes' && (
        <Typography sx={{ color: 'text.secondary' }}>
          Without network a page that is open goes on, and one that is closed does not open again.
        </Typography>
      )}
    </Card>
  );
}

function NameAndAddress({ account: { displayName, email } }: { account: Account }) {
  const form = useForm({ displayName, email }, async (body) => {
    await unwrap(api.PUT('/api/account', { body }));
    await readAgain();
  });
  return (
    <Card aria-label="Name and address">
      <Sheet
        title="Name and address"
        heading="h2"
        error={form.error}
        action="Save"
        sending={form.sending}
        onSubmit={form.onSubmit}
      >
        <TextField
          label="Your name, as colleagues read it"
          autoComplete="name"
          {...form.field('displayName')}
        />
        <TextField label="E-mail" type="email" autoComplete="email" {...form.field('email')} />
      </Sheet>
    </Card>
  );
}

function Password() {
  const form = useForm({ current: '', password: '' }, async (body, set) => {
    await unwrap(api.PUT('/api/account/password', { body }));
    set({ current: '', password: '' });
    await readAgain();
  });
  return (
    <Card aria-label="Password">
      <Sheet
        title="Password"
        heading="h2"
        lead="A new password signs every other device out, at once."
        error={form.error}
        action="Change the password"
        sending={form.sending}
        onSubmit={form.onSubmit}
      >
        <TextField
          label="Present password"
          type="password"
          autoComplete="current-password"
          {...form.field('current')}
        />
        <TextField
          label="New password, at least 12 characters"
          type="password"
          autoComplete="new-password"
          {...form.field('password')}
        />
      </Sheet>
    </Card>
  );
}
