import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useCopyToClipboard } from 'usehooks-ts';
import { api, unwrap } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { useSent } from '../../parts/useSent';
import { dayWords } from '../../words/dates';

/** An address that calendars subscribe to: made, shown once, ended. */
export function CalendarAddress({ classId }: { classId: string }) {
  const kept = $api.useQuery('get', '/api/classes/{class}/calendar/address', ofClass(classId));
  const [path, setPath] = useState<string>();
  const [copied, copy] = useCopyToClipboard();
  const action = useSent(async () => {
    await kept.refetch();
  });
  const address = path && `${window.location.origin}${path}`;
  const make = () =>
    action.run(async () => {
      const made = await unwrap(api.POST('/api/classes/{class}/calendar/address', ofClass(classId)));
      setPath(made.path);
    });
  const end = () =>
    action.run(async () => {
      await unwrap(api.DELETE('/api/classes/{class}/calendar/address', ofClass(classId)));
      setPath(undefined);
    });
  const { madeAt: since, madeBy = 'somebody who left' } = kept.data ?? {};
  return (
    <Box component="section" aria-label="Calendar address" sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h2">Calendar address</Typography>
      <Typography>
        {since
          ? `Made ${dayWords(since)} by ${madeBy}. Whoever has it sees when the class meets and how many checks are due, and no child.`
          : 'A calendar that subscribes to an address follows by itself when days change. Whoever has it sees when the class meets, and no child.'}
      </Typography>
      {address && (
        <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-start' }}>
          <TextField
            label="Shown this once"
            value={address}
            size="small"
            fullWidth
            helperText="Give it to your calendar, under “subscribe” or “add by URL”."
            slotProps={{ htmlInput: { readOnly: true } }}
            onFocus={({ target }) => target.select()}
          />
          <Button variant="contained" onClick={() => void copy(address)}>
            {copied === address ? 'Copied' : 'Copy'}
          </Button>
        </Stack>
      )}
      {action.error && <Alert severity="error">{action.error}</Alert>}
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
        <Button variant="outlined" loading={action.busy} disabled={!kept.data} onClick={() => void make()}>
          {since ? 'Make a new one instead' : 'Make an address'}
        </Button>
        {since && (
          <Button loading={action.busy} onClick={() => void end()}>
            End it
          </Button>
        )}
      </Stack>
    </Box>
  );
}
