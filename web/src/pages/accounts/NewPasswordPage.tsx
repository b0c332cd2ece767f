import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, unwrap } from '../../api/client';
import { Sheet } from '../../parts/FormPanel';
import { useForm } from '../../parts/useForm';
import { OnADoor } from './OnADoor';

/** Whoever follows a link to a new password. The secret stands behind the `#`, where no server reads it. */
export function NewPasswordPage() {
  const [secret] = useState(() => window.location.hash.slice(1));
  const [done, setDone] = useState(false);
  const form = useForm({ password: '' }, async ({ password }) => {
    await unwrap(api.POST('/api/links/password', { body: { secret, password } }));
    setDone(true);
  });
  return (
    <OnADoor>
      {done ? (
        <div>
          <Typography variant="h1">It is set</Typography>
          <Typography sx={{ my: 2 }}>Every device was signed out. Sign in with the new password.</Typography>
          <Button component={Link} to="/" variant="contained" size="large">
            Sign in
          </Button>
        </div>
      ) : (
        <Sheet
          title="A new password"
          lead="Several words that do not belong together are good, and easy to keep in mind."
          error={form.error}
          action="Set it"
          sending={form.sending}
          onSubmit={form.onSubmit}
        >
          <TextField
            label="New password, at least 12 characters"
            type="password"
            autoComplete="new-password"
            required
            {...form.field('password')}
          />
        </Sheet>
      )}
    </OnADoor>
  );
}
