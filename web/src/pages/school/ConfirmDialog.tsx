import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { useSend } from './useSend';

interface Props {
  title: string;
  /** To be typed as it stands. */
  name: string;
  action: string;
  onStay: () => void;
  send: (confirm: string) => Promise<unknown>;
  /** What goes, what stays. */
  children: ReactNode;
}

/** Something that cannot be undone: its name is typed first. */
export function ConfirmDialog({ title, name, action, onStay, send, children }: Props) {
  const [typed, setTyped] = useState('');
  const sending = useSend();
  const end = async () => {
    if (await sending.run(() => send(typed))) onStay();
  };
  return (
    <Dialog open onClose={onStay} aria-labelledby="confirm-title">
      <DialogTitle id="confirm-title" variant="h2">
        {title}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <Typography>{children}</Typography>
        <TextField
          label={`Type “${name}”`}
          value={typed}
          error={sending.error !== undefined}
          helperText={sending.error}
          onChange={(event) => setTyped(event.target.value)}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onStay}>Keep it</Button>
        <Button
          color="error"
          variant="contained"
          disabled={typed.trim() !== name}
          loading={sending.busy}
          onClick={() => void end()}
        >
          {action}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
