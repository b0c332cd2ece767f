import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';

/** The server takes no larger file, but for a roster; said before anything is sent. */
const LARGEST_MB = 8;

interface Props {
  label: string;
  /** The name of the file that was taken. */
  name?: string | undefined;
  accept: string;
  busy: boolean;
  /** The share of the file that is read, where the server says so. */
  read?: number | undefined;
  largestMb?: number;
  onStop: () => void;
  onFile: (file: File) => void;
}

/** Chooses a file, or takes one that is dropped; shows that it is being read, and can be stopped. */
export function FilePick({ label, name, accept, busy, read, largestMb = LARGEST_MB, onStop, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [tooLarge, setTooLarge] = useState<string>();
  const take = (file: File | undefined) => {
    if (!file) return;
    if (file.size > largestMb * 1024 * 1024) {
      const mb = Math.round(file.size / 1024 / 1024);
      setTooLarge(
        `${file.name} has ${mb} MB; ${largestMb} MB is the most. Export only the rows and columns that matter.`,
      );
      return;
    }
    setTooLarge(undefined);
    onFile(file);
  };
  return (
    <Box
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        take(event.dataTransfer.files[0]);
      }}
      sx={{ border: '2px dashed', borderColor: 'divider', borderRadius: 2, p: 2, maxWidth: 720 }}
    >
      <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Button variant={name ? 'outlined' : 'contained'} onClick={() => input.current?.click()}>
          {name ? 'Another file' : label}
        </Button>
        <Typography>{name ?? 'or drop it here'}</Typography>
      </Stack>
      <input
        ref={input}
        hidden
        type="file"
        aria-label={label}
        accept={accept}
        onChange={(event) => {
          take(event.target.files?.[0]);
          // The same file can be chosen again after it was mended.
          event.target.value = '';
        }}
      />
      {tooLarge && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {tooLarge}
        </Alert>
      )}
      {busy && (
        <Stack direction="row" spacing={2} sx={{ alignItems: 'center', mt: 1 }}>
          <Typography aria-hidden sx={{ minWidth: '6em', whiteSpace: 'nowrap' }}>
            {read === undefined ? 'Being sent and read' : `${Math.round(read * 100)} % read`}
          </Typography>
          <LinearProgress
            aria-label="The file is being read"
            {...(read !== undefined && { variant: 'determinate', value: read * 100 })}
            sx={{ flex: 1 }}
          />
          <Button onClick={onStop}>Stop</Button>
        </Stack>
      )}
    </Box>
  );
}
