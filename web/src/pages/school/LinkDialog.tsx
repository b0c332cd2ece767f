import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { QRCodeSVG } from 'qrcode.react';
import { useCopyToClipboard } from 'usehooks-ts';
import { momentWords } from '../../words/dates';

/** A link that was just made; its secret is shown this once. */
export interface NewLink {
  kind: 'invitation' | 'code' | 'password';
  /** Whom it is for. */
  name: string;
  secret: string;
  until: string;
}

const TITLES = {
  invitation: 'A link to come in',
  code: 'A code for the tablet',
  password: 'A link to a new password',
} as const;

/** A link and its code, to be shown, copied or mailed: it is good once, and shown this once. */
export function LinkDialog({ link, onClose }: { link: NewLink; onClose: () => void }) {
  const page = link.kind === 'password' ? 'new-password' : 'invitation';
  // Behind the `#` no server and no log reads it.
  const address = `${window.location.origin}/${page}#${link.secret}`;
  const [copied, copy] = useCopyToClipboard();
  const code = link.kind === 'code';
  const until = momentWords(link.until);
  const lead = code
    ? `Hold the tablet’s camera before it: the class opens for ${link.name} until ${until}.`
    : `Give it to ${link.name === '' ? 'whom it is for' : link.name} and to nobody else. It is good once, until ${until}.`;
  const text = `Here is your link to Bright Row. It is good once, until ${until}:\n\n${address}\n`;
  const mail = `mailto:?subject=${encodeURIComponent('Bright Row')}&body=${encodeURIComponent(text)}`;
  return (
    <Dialog open onClose={onClose} aria-labelledby="link-title" fullWidth maxWidth="sm">
      <DialogTitle id="link-title" variant="h2">
        {TITLES[link.kind]}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, justifyItems: 'center' }}>
        <Typography>{lead}</Typography>
        {/* A camera wants dark on light, also at night. */}
        <Box sx={{ background: '#fff', p: 2, borderRadius: 1 }}>
          <QRCodeSVG value={address} size={240} title="The link as a code for a camera" />
        </Box>
        <TextField
          label="The link"
          value={address}
          fullWidth
          size="small"
          slotProps={{ htmlInput: { readOnly: true } }}
          onFocus={(event) => event.target.select()}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void copy(address)}>{copied === address ? 'Copied' : 'Copy'}</Button>
        {!code && (
          <Button component="a" href={mail}>
            Mail it
          </Button>
        )}
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
