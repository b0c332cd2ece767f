import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import { useSingleKeys } from '../parts/keys';

const KEYS: [keys: string[], what: string][] = [
  [['/'], 'find a child'],
  [['←', '→', '↑', '↓'], 'from seat to seat'],
  [['Enter'], 'open the child'],
  [['[', ']'], 'checkpoint before, after; at the bench the instrument before, after'],
  [['0', '1', '2', '3', '4'], 'record it: not yet, Placed, Prompted, Alone, Lasting'],
  [['S'], 'slips seen with the next observation'],
  [['N'], 'note with the next observation'],
  [['U'], 'undo the last observation'],
  [['R'], 'the round; there Enter goes to the next child'],
  [['Esc'], 'close the child'],
  [['↵'], 'while measuring: keep it, and the next child'],
  [['Space'], 'on the seat plan: pick up and let go; arrows move'],
  [['?'], 'this list'],
];

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [on, setOn] = useSingleKeys();
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="keys-title">
      <DialogTitle id="keys-title" variant="h2">
        Keys
      </DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: 1.25, m: 0, alignItems: 'center' }}
        >
          {KEYS.map(([keys, what]) => (
            <Box key={what} sx={{ display: 'contents' }}>
              <Stack direction="row" spacing={0.5} component="dt">
                {keys.map((key) => (
                  <Box
                    key={key}
                    component="kbd"
                    sx={{
                      font: 'inherit',
                      fontWeight: 700,
                      minWidth: 30,
                      textAlign: 'center',
                      px: 0.75,
                      border: 1,
                      borderColor: 'text.secondary',
                      borderRadius: 1,
                    }}
                  >
                    {key}
                  </Box>
                ))}
              </Stack>
              <Box component="dd" sx={{ m: 0 }}>
                {what}
              </Box>
            </Box>
          ))}
        </Box>
        <FormControlLabel
          sx={{ mt: 2 }}
          control={<Switch checked={on} onChange={(event) => setOn(event.target.checked)} />}
          label="Single keys on"
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
