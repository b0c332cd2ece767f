import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import Typography from '@mui/material/Typography';
import { asError } from '../api/client';

/** Something is being read. */
export function Loading({ what }: { what: string }) {
  return (
    <Stack direction="row" spacing={2} role="status" sx={{ alignItems: 'center', p: 4 }}>
      <CircularProgress size={24} aria-hidden />
      <Typography>{what} …</Typography>
    </Stack>
  );
}

/** Something could not be read: what happened and what to do. */
export function Failed({ error, onRetry }: { error: unknown; onRetry: () => void }) {
  return (
    <Box role="alert" sx={{ p: 4, maxWidth: 560 }}>
      <Typography sx={{ mb: 2 }}>{asError(error).message}</Typography>
      <Button variant="contained" onClick={onRetry}>
        Try again
      </Button>
    </Box>
  );
}
