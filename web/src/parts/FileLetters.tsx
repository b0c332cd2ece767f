import Alert from '@mui/material/Alert';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Schemas } from '../api/client';
import { lettersName } from '../words/letters';

interface Props {
  /** The way taken first; none where the file says how it is written. */
  ways: Schemas['LettersView'][];
  onRead: (letters: string) => void;
}

/** Asks how a file's letters are to be read, where the file does not say: by words of it in each way. */
export function FileLetters({ ways, onRead }: Props) {
  const [taken, ...others] = ways;
  if (!taken || others.length === 0) return null;
  return (
    <Alert severity="info" sx={{ maxWidth: 720, '& .MuiAlert-message': { flex: 1 } }}>
      The file does not say how its letters are written. Choose the line in which the names read right.
      <TextField
        select
        fullWidth
        size="small"
        label="Letters"
        value={taken.letters}
        sx={{ mt: 1.5 }}
        onChange={(event) => onRead(event.target.value)}
      >
        {ways.map(({ letters, words }) => (
          <MenuItem key={letters} value={letters} sx={{ whiteSpace: 'normal' }}>
            {words} ({lettersName(letters)})
          </MenuItem>
        ))}
      </TextField>
    </Alert>
  );
}
