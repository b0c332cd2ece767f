import IconButton from '@mui/material/IconButton';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { SeatPlan } from '../../api/client';

interface Props {
  room: SeatPlan['room'];
  onRoom: (size: { widthMm: number } | { depthMm: number }) => void;
  /** So many rows, evenly filled. */
  onRows: (rows: number) => void;
  /** Chairs in each row. */
  onChairs: (rows: number[]) => void;
}

/** The room: how wide and deep, how many rows, how many chairs in each. */
export function RoomFields({ room, onRoom, onRows, onChairs }: Props) {
  const { rows } = room;
  const change = (row: number, by: number) =>
    onChairs(rows.map((chairs, index) => (index === row ? Math.min(40, Math.max(1, chairs + by)) : chairs)));
  return (
    <Box component="section" aria-label="Room" sx={{ display: 'grid', gap: 1.5 }}>
      <Stack direction="row" spacing={1}>
        <Metres label="Room width, m" mm={room.widthMm} onMm={(widthMm) => onRoom({ widthMm })} />
        <Metres label="Room depth, m" mm={room.depthMm} onMm={(depthMm) => onRoom({ depthMm })} />
      </Stack>
      <Stepper
        label={`${rows.length} rows`}
        less="One row less"
        more="One row more"
        onLess={() => rows.length > 1 && onRows(rows.length - 1)}
        onMore={() => rows.length < 20 && onRows(rows.length + 1)}
      />
      {rows.map((chairs, index) => (
        <Stepper
          // A row is its number.
          key={index}
          label={`Row ${index + 1}: ${chairs} chairs`}
          less={`One chair less in row ${index + 1}`}
          more={`One chair more in row ${index + 1}`}
          onLess={() => change(index, -1)}
          onMore={() => change(index, 1)}
        />
      ))}
    </Box>
  );
}

function Metres({ label, mm, onMm }: { label: string; mm: number; onMm: (mm: number) => void }) {
  const [typed, setTyped] = useState(String(mm / 1000));
  const metres = Number(typed.replace(',', '.'));
  const wrong = !(metres >= 2 && metres <= 60);
  return (
    <TextField
      size="small"
      label={label}
      value={typed}
      error={wrong}
      helperText={wrong ? '2 to 60 m' : ''}
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
      onChange={(event) => {
        setTyped(event.target.value);
        const next = Number(event.target.value.replace(',', '.'));
        if (next >= 2 && next <= 60) onMm(Math.round(next * 1000));
      }}
    />
  );
}

interface StepperProps {
  label: string;
  less: string;
  more: string;
  onLess: () => void;
  onMore: () => void;
}

function Stepper({ label, less, more, onLess, onMore }: StepperProps) {
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
      <Typography sx={{ flex: 1 }}>{label}</Typography>
      <IconButton aria-label={less} onClick={onLess}>
        −
      </IconButton>
      <IconButton aria-label={more} onClick={onMore}>
        +
      </IconButton>
    </Stack>
  );
}
