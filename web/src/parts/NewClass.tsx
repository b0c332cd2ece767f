import { isoDay } from '../words/dates';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { v7 as uuid } from 'uuid';
import { api, unwrap, type Session } from '../api/client';
import { classesQuery, queryClient } from '../api/queries';
import { Toggle } from './Toggle';
import { Sheet } from './FormPanel';
import { useForm } from './useForm';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const WEEKS = 36;

/** A class with its calendar: everything that comes due is counted in its meetings. */
export function NewClass({ session, first = true }: { session: Session; first?: boolean }) {
  const navigate = useNavigate();
  const programs = session.programs.filter(({ mayChange }) => mayChange);
  const [days, setDays] = useState<number[]>([]);
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const [today] = useState(() => new Date());
  // Made once, however often it is sent.
  const [id] = useState(() => uuid());
  const form = useForm(
    {
      programId: programs[0]?.id ?? '',
      name: '',
      firstDay: isoDay(today),
      lastDay: isoDay(new Date(today.getTime() + WEEKS * 7 * 86_400_000)),
      timeZone: zone,
    },
    async (values) => {
      const added = await unwrap(api.POST('/api/classes', { body: { ...values, id, meetingDays: days } }));
      await queryClient.invalidateQueries({ queryKey: classesQuery.queryKey });
      await navigate(`/class/${added.id}/room`);
    },
  );
  const wrongDays = form.problemOf('meetingDays');
  if (programs.length === 0) {
    return (
      <Typography sx={{ p: 4, maxWidth: 520 }}>
        No class is open to you yet. An owner of the program gives you one; then it opens here.
      </Typography>
    );
  }
  return (
    <Box sx={{ p: 4, height: '100%', overflow: 'auto' }}>
      <Sheet
        title={first ? 'Your first class' : 'Another class'}
        lead="When it meets decides what is due: a holiday makes nothing overdue."
        error={form.error}
        action="Add the class"
        sending={form.sending}
        onSubmit={form.onSubmit}
      >
        {programs.length > 1 && (
          <TextField select label="Program" {...form.field('programId')}>
            {programs.map(({ id, name }) => (
              <MenuItem key={id} value={id}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField label="Name of the class" required {...form.field('name')} />
        <Box>
          <Typography id="days" sx={{ mb: 0.5 }}>
            Meets on
          </Typography>
          <Stack direction="row" spacing={0.75} role="group" aria-labelledby="days" sx={{ flexWrap: 'wrap' }}>
            {DAYS.map((name, index) => (
              <Toggle
                key={name}
                on={days.includes(index + 1)}
                onClick={() =>
                  setDays((all) =>
                    all.includes(index + 1) ? all.filter((day) => day !== index + 1) : [...all, index + 1],
                  )
                }
              >
                {name}
              </Toggle>
            ))}
          </Stack>
          {wrongDays && (
            <Typography role="alert" sx={{ color: 'error.main', mt: 0.5 }}>
              {wrongDays}
            </Typography>
          )}
        </Box>
        <TextField
          label="First day"
          type="date"
          slotProps={{ inputLabel: { shrink: true } }}
          {...form.field('firstDay')}
        />
        <TextField
          label="Last day"
          type="date"
          slotProps={{ inputLabel: { shrink: true } }}
          {...form.field('lastDay')}
        />
        <TextField label="Time zone" {...form.field('timeZone')} />
      </Sheet>
    </Box>
  );
}
