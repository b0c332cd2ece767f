import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { QRCodeSVG } from 'qrcode.react';
import { useState } from 'react';
import { api, unwrap, type Schemas } from '../../api/client';
import { Sheet } from '../../parts/FormPanel';
import { Card } from '../../parts/page';
import { useForm } from '../../parts/useForm';
import { useSent } from '../../parts/useSent';
import { count } from '../../words/text';

interface Props {
  account: Schemas['AccountView'];
  onDone: () => Promise<void>;
}

/** A second device whose codes are asked for at sign-in. */
export function SecondFactor({ account, onDone }: Props) {
  const [proposed, setProposed] = useState<Schemas['NewSecret']>();
  const [codes, setCodes] = useState<string[]>();
  const begin = useSent(() => Promise.resolve());
  return (
    <Card aria-label="Second factor">
      <Typography variant="h2" sx={{ mb: 1 }}>
        Second factor
      </Typography>
      {codes ? (
        <RecoveryCodes codes={codes} onDone={() => setCodes(undefined)} />
      ) : account.secondFactor ? (
        <TurnOff left={account.recoveryCodes} onDone={onDone} />
      ) : proposed ? (
        <TurnOn
          proposed={proposed}
          onDone={async (made) => {
            setCodes(made);
            setProposed(undefined);
            await onDone();
          }}
        />
      ) : (
        <Box sx={{ display: 'grid', gap: 1, justifyItems: 'start' }}>
          <Typography>
            Your phone makes a new code every half minute; with it, a password alone opens nothing. Any
            authenticator app will do.
          </Typography>
          {begin.error && <Alert severity="error">{begin.error}</Alert>}
          <Button
            variant="outlined"
            loading={begin.busy}
            onClick={() =>
              void begin.run(async () => setProposed(await unwrap(api.POST('/api/account/second-factor'))))
            }
          >
            Set one up
          </Button>
        </Box>
      )}
    </Card>
  );
}

function TurnOn({
  proposed,
  onDone,
}: {
  proposed: Schemas['NewSecret'];
  onDone: (codes: string[]) => Promise<void>;
}) {
  const form = useForm({ code: '', password: '' }, async ({ code, password }) => {
    const body = { secret: proposed.secret, code, password };
    await onDone((await unwrap(api.PUT('/api/account/second-factor', { body }))).codes);
  });
  return (
    <Sheet
      title="Read this code with the phone"
      heading="h3"
      error={form.error}
      action="Turn it on"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      {/* A camera wants dark on light, also at night. */}
      <Box sx={{ background: '#fff', p: 2, borderRadius: 1, justifySelf: 'start' }}>
        <QRCodeSVG value={proposed.address} size={200} title="The secret as a code for a camera" />
      </Box>
      <Typography sx={{ overflowWrap: 'anywhere' }}>
        Or type it: <code>{proposed.secret}</code>
      </Typography>
      <TextField label="The six digits it shows now" autoComplete="one-time-code" {...form.field('code')} />
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        {...form.field('password')}
      />
    </Sheet>
  );
}

/** Shown once. */
export function RecoveryCodes({ codes, onDone }: { codes: string[]; onDone: () => void }) {
  return (
    <Box sx={{ display: 'grid', gap: 1, justifyItems: 'start' }}>
      <Typography>
        It is on. For the day the phone is lost, write these down: each is good once, and they are shown this
        once.
      </Typography>
      <Box
        component="ul"
        sx={{ m: 0, columns: 2, columnGap: 4, fontFamily: 'monospace', fontSize: '1.05rem' }}
      >
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </Box>
      <Button variant="contained" onClick={onDone}>
        I have them
      </Button>
    </Box>
  );
}

function TurnOff({ left, onDone }: { left: number; onDone: () => Promise<void> }) {
  const form = useForm({ password: '' }, async (body, set) => {
    await unwrap(api.DELETE('/api/account/second-factor', { body }));
    set({ password: '' });
    await onDone();
  });
  return (
    <Sheet
      title={`It is on, with ${count(left, 'recovery code')} left`}
      heading="h3"
      error={form.error}
      action="Turn it off"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        {...form.field('password')}
      />
    </Sheet>
  );
}
