import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, unwrap, type Schemas } from '../../api/client';
import { Sheet } from '../../parts/FormPanel';
import { Card } from '../../parts/page';
import { useForm } from '../../parts/useForm';
import { dayWords, momentWords } from '../../words/dates';
import { makePasskey } from './passkey';
import { RecoveryCodes } from './SecondFactor';

type Passkey = Schemas['PasskeyView'];

interface Props {
  account: Schemas['AccountView'];
  onDone: () => Promise<void>;
}

/** Devices and keys that are shown at sign-in instead of a code. */
export function Passkeys({ account, onDone }: Props) {
  const [adding, setAdding] = useState(false);
  const [removing, setRemoving] = useState<Passkey>();
  const [codes, setCodes] = useState<string[]>([]);
  return (
    <Card aria-label="Passkeys">
      <Typography variant="h2" sx={{ mb: 1 }}>
        Passkeys
      </Typography>
      {codes.length > 0 && <RecoveryCodes codes={codes} onDone={() => setCodes([])} />}
      {account.passkeys.map((one) => (
        <Stack
          key={one.id}
          direction="row"
          spacing={1}
          sx={{ alignItems: 'center', borderTop: 1, borderColor: 'divider', py: 0.5 }}
        >
          <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
            <Typography>{one.name}</Typography>
            <Typography sx={{ color: 'text.secondary' }}>
              Added {dayWords(one.addedAt)}
              {one.lastUsedAt && `, used ${momentWords(one.lastUsedAt)}`}
            </Typography>
          </Box>
          <Button onClick={() => setRemoving(one)}>Remove</Button>
        </Stack>
      ))}
      {removing ? (
        <Remove
          key={removing.id}
          passkey={removing}
          onDone={async () => {
            await onDone();
            setRemoving(undefined);
          }}
        />
      ) : adding ? (
        <Add
          onDone={async (made) => {
            await onDone();
            setCodes(made);
            setAdding(false);
          }}
        />
      ) : (
        <Box sx={{ display: 'grid', gap: 1, justifyItems: 'start', pt: 1 }}>
          <Typography>
            This device’s own lock, or a key on your ring, stands in for the code at sign-in.
          </Typography>
          {account.passkeysPossible ? (
            <Button variant="outlined" onClick={() => setAdding(true)}>
              Add one
            </Button>
          ) : (
            <Alert severity="info">
              Browsers make passkeys for a server with a name and encryption. Open Bright Row by its name.
            </Alert>
          )}
        </Box>
      )}
    </Card>
  );
}

function Add({ onDone }: { onDone: (codes: string[]) => Promise<void> }) {
  const form = useForm({ name: '', password: '' }, async ({ name, password }) => {
    const asked = await unwrap(api.POST('/api/account/passkeys', { body: { password } }));
    const credential = await makePasskey(asked);
    const body = { name, credential };
    await onDone((await unwrap(api.PUT('/api/account/passkeys', { body }))).codes);
  });
  return (
    <Sheet
      title="A new passkey"
      heading="h3"
      lead="Your device asks for its lock, or for the key."
      error={form.error ?? form.problemOf('credential')}
      action="Make it"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField label="What you call it, such as Phone" required {...form.field('name')} />
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        required
        {...form.field('password')}
      />
    </Sheet>
  );
}

function Remove({ passkey, onDone }: { passkey: Passkey; onDone: () => Promise<void> }) {
  const form = useForm({ password: '' }, async (body) => {
    const params = { path: { passkey: passkey.id } };
    await unwrap(api.DELETE('/api/account/passkeys/{passkey}', { params, body }));
    await onDone();
  });
  return (
    <Sheet
      title={`Remove ${passkey.name}?`}
      heading="h3"
      error={form.error}
      action="Remove it"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        required
        {...form.field('password')}
      />
    </Sheet>
  );
}
