import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';
import { ApiProblem, api, unwrap } from '../../api/client';
import { pathOf, queryClient, sessionQuery, signedInAs } from '../../api/queries';
import { whenLessBusy } from '../../api/whenLessBusy';
import { retryNow } from '../../offline/useOutbox';
import { Sheet } from '../../parts/FormPanel';
import { useForm } from '../../parts/useForm';
import { passkeysWork, showPasskey } from './passkey';

interface Props {
  /** Whose session ended on this page: what they typed is still there. */
  again?: string;
  /** What is said above the form. */
  lead?: string;
}

const LEAD = 'Sign in to your class: holds, bow grips, left hands and tapes, child by child.';

/** A passkey that the device shows, once the password is right. */
async function shownFor({ email, password }: { email: string; password: string }) {
  return showPasskey(await unwrap(api.POST('/api/session/passkey', { body: { email, password } })));
}

/** Signing in, with a code where a second factor is asked for; the page that was open comes back for whoever left it. */
export function SignIn({ again, lead = LEAD }: Props) {
  const [coded, setCoded] = useState(false);
  const byPasskey = useRef(false);
  const form = useForm({ email: '', password: '', code: '' }, async (typed) => {
    try {
      const body = byPasskey.current ? { ...typed, passkey: await shownFor(typed) } : typed;
      const session = await whenLessBusy(() => unwrap(api.POST('/api/session', { body })));
      if (again !== undefined && session.account !== again) {
        // Somebody else: nothing of the page that was open is for them.
        queryClient.clear();
        window.location.assign('/');
        return;
      }
      await signedInAs(session);
    } catch (error) {
      if (error instanceof ApiProblem && error.kind === 'code-wanted' && !coded) {
        setCoded(true);
        return;
      }
      throw error;
    } finally {
      byPasskey.current = false;
    }
    retryNow();
    await queryClient.invalidateQueries({ predicate: (query) => pathOf(query) !== pathOf(sessionQuery) });
  });
  return (
    <Sheet
      title={again === undefined ? 'Bright Row' : 'Sign in again'}
      lead={again === undefined ? lead : 'Your session has ended. What you typed is kept and comes back.'}
      error={form.error}
      action="Sign in"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField label="E-mail" type="email" autoComplete="username" required {...form.field('email')} />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        {...form.field('password')}
      />
      {coded && (
        <TextField
          label="Code of your second device"
          autoComplete="one-time-code"
          {...form.field('code')}
          helperText={form.problemOf('code') ?? 'Six digits, or a recovery code.'}
        />
      )}
      {coded && passkeysWork() && (
        <Button type="submit" variant="outlined" onClick={() => (byPasskey.current = true)}>
          Use a passkey
        </Button>
      )}
    </Sheet>
  );
}
