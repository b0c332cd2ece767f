import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import type { Texts } from '../../api/client';

const REGISTERS = [
  ['lookFor', 'Look for', 90],
  ['proof', 'Proof', 90],
  ['cue', 'Say to the child', 40],
] as const;

interface Props {
  /** For which instruments, in words; part of the fields' names. */
  about: string;
  texts: Texts;
  /** How they read for everybody; shown where they differ. */
  shared?: Texts;
  problemOf: (field: string) => string | undefined;
  onChange: (texts: Texts) => void;
}

/** The three registers of a checkpoint, each with its length. */
export function TextFields({ about, texts, shared, problemOf, onChange }: Props) {
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {REGISTERS.map(([key, label, most]) => {
        const long = texts[key].length > most;
        const other = shared && shared[key] !== texts[key];
        const length = `${texts[key].length} of ${most} characters`;
        const help = other ? `${length}. As it ships: ${shared[key]}` : length;
        return (
          <TextField
            key={key}
            label={about ? `${label}, ${about}` : label}
            value={texts[key]}
            multiline
            size="small"
            error={long || problemOf(key) !== undefined}
            helperText={problemOf(key) ?? help}
            onChange={(event) => onChange({ ...texts, [key]: event.target.value })}
          />
        );
      })}
    </Box>
  );
}
