import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { v7 as uuid } from 'uuid';
import { api, unwrap, type Instrument } from '../../api/client';
import { refreshClass, roomQuery } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { Sheet } from '../../parts/FormPanel';
import { useForm } from '../../parts/useForm';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';

/** Children one after the other: name, instrument, chair; the next chair is filled in. */
export function NewChildren() {
  const { classId = '' } = useParams();
  const room = useQuery(roomQuery(classId));
  const [instrument, setInstrument] = useState<Instrument>('violin');
  const [added, setAdded] = useState<string[]>([]);
  // Of the child that is typed: made once, however often it is sent.
  const [id, setId] = useState(() => uuid());
  const name = useRef<HTMLInputElement>(null);
  const nextSeat = (row: number) =>
    Math.max(0, ...(room.data?.children ?? []).map(({ seat }) => (seat?.row === row ? seat.seat : 0))) + 1;
  const form = useForm({ name: '', row: '1', seat: '' }, async (values, set) => {
    const row = Number(values.row);
    const child = {
      id,
      name: values.name,
      instrument,
      row,
      seat: Number(values.seat || nextSeat(row)),
    };
    await unwrap(
      api.POST('/api/classes/{class}/children', {
        params: { path: { class: classId } },
        body: { children: [child] },
      }),
    );
    await refreshClass(classId);
    setAdded((all) => [...all, `${values.name}, ${instrument}`]);
    set({ name: '', seat: '' });
    setId(uuid());
    name.current?.focus();
  });
  const problem = (field: string) => form.problemOf(`children.0.${field}`);
  return (
    <Box sx={{ p: 4, height: '100%', overflow: 'auto' }}>
      <Sheet
        title="Add children"
        lead="A first name and one letter is enough. Row 1 is nearest the podium."
        error={form.error}
        action="Add"
        sending={form.sending}
        onSubmit={form.onSubmit}
        back={
          <Button component={Link} to={`/class/${classId}/room`} size="large">
            To the room
          </Button>
        }
      >
        <TextField
          label="First name and a letter"
          inputRef={name}
          required
          {...form.field('name')}
          error={problem('name') !== undefined}
          helperText={problem('name')}
        />
        <OneOf
          name="Instrument"
          value={instrument}
          options={INSTRUMENTS.map((one) => [one, capital(one)] as const)}
          onChoose={setInstrument}
        />
        <Stack direction="row" spacing={1.5}>
          <TextField
            label="Row"
            type="number"
            {...form.field('row')}
            error={problem('row') !== undefined}
            helperText={problem('row')}
          />
          <TextField
            label="Seat"
            type="number"
            placeholder={String(nextSeat(Number(form.values.row)))}
            slotProps={{ inputLabel: { shrink: true } }}
            {...form.field('seat')}
            error={problem('seat') !== undefined}
            helperText={problem('seat')}
          />
        </Stack>
        {added.length > 0 && (
          <Typography role="status">
            Added: {added.at(-1)}. {added.length} so far.
          </Typography>
        )}
      </Sheet>
    </Box>
  );
}
