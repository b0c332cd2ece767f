import TextField from '@mui/material/TextField';
import { api, unwrap } from '../../api/client';
import { pathOf, queryClient, sessionQuery, signedInAs } from '../../api/queries';
import { retryNow } from '../../offline/useOutbox';
import { Sheet } from '../../parts/FormPanel';
import { useForm } from '../../parts/useForm';

/** Signing in; the page that was open stays as it is underneath. */
export function SignIn({ again = false }: { again?: boolean }) {
  const form = useForm({ email: '', password: '' }, async (body) => {
    await signedInAs(await unwrap(api.POST('/api/session', { body })));
    retryNow();
    await queryClient.invalidateQueries({ predicate: (query) => pathOf(query) !== pathOf(sessionQuery) });
  });
  return (
    <Sheet
      title={again ? 'Sign in again' : 'Bright Row'}
      lead={
        again
          ? 'Your session has ended. What is on this page is kept.'
          : 'Sign in to your class: holds, bow grips, left hands and tapes, child by child.'
      }
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
    </Sheet>
  );
}
