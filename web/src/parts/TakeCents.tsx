import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import { useState } from 'react';
import { centsWords } from '../words/markers';

interface Props {
  /** What was heard. */
  cents: number;
  /** Somebody takes it, in whole cents. */
  onTake: (cents: number) => void;
  /** Listens once more. */
  onAgain: () => void;
}

/** What was heard goes to the log with a tap, once; another try begins anew. */
export function TakeCents({ cents, onTake, onAgain }: Props) {
  const [taken, setTaken] = useState(false);
  const whole = Math.round(cents);
  return (
    <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
      <Button
        variant="contained"
        disabled={taken}
        onClick={() => {
          setTaken(true);
          onTake(whole);
        }}
      >
        {taken ? 'Saved' : 'Save'} {centsWords(whole)}
      </Button>
      <Button variant="outlined" onClick={onAgain}>
        Once more
      </Button>
    </Stack>
  );
}
