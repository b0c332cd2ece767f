import TextField from '@mui/material/TextField';
import { api, unwrap } from '../../api/client';
import { firstRunQuery, queryClient, signedInAs } from '../../api/queries';
import { Sheet } from '../../parts/FormPanel';
import { useForm } from '../../parts/useForm';

/** The first run of an empty server: the school's program and its director. */
export function FirstRun() {
  const form = useForm({ programName: '', displayName: '', email: '', password: '' }, async (body) => {
    const session = await unwrap(api.POST('/api/first-run', { body }));
    queryClient.setQueryData(firstRunQuery.queryKey, { wanted: false });
    await signedInAs(session);
  });
  return (
    <Sheet
      title="Welcome to Bright Row"
      lead="Nobody has an account here yet. Make yours: you own the program, and everything stays on this server."
      error={form.error}
      action="Begin"
      sending={form.sending}
      onSubmit={form.onSubmit}
    >
      <TextField label="School or program" required {...form.field('programName')} />
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
