import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { ChooseChildren } from '../../parts/ChooseChildren';
import { Card } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { count } from '../../words/text';
import { useMoving } from './useMoving';

interface Props {
  classId: string;
  roster: Schemas['Roster'];
}

/** Children move to next year's class, each with its history: all but those who are left out. */
export function MovingOn({ classId, roster }: Props) {
  const mayChange = useDirector(classId);
  const [to, setTo] = useState('');
  const [stay, setStay] = useState<ReadonlySet<string>>(new Set());
  const moving = useMoving(classId);
  const going = roster.children.filter(({ id }) => !stay.has(id));
  const toggle = (id: string) => {
    const next = new Set(stay);
    if (!next.delete(id)) next.add(id);
    setStay(next);
  };
  const where = roster.otherClasses.find(({ id }) => id === to);
  return (
    <Card aria-label="Children move on" sx={{ display: 'grid', gap: 1.5 }}>
      <Typography variant="h2">Children move on</Typography>
      {roster.otherClasses.length === 0 ? (
        <Typography>Add next year’s class first, under School, Classes.</Typography>
      ) : (
        <TextField
          select
          label="To"
          size="small"
          value={to}
          disabled={!mayChange || moving.busy}
          sx={{ maxWidth: 360 }}
          onChange={(event) => setTo(event.target.value)}
        >
          {roster.otherClasses.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {mayChange && where && roster.children.length > 0 && (
        <>
          <ChooseChildren
            name="Who moves on"
            children={roster.children}
            chosen={(id) => !stay.has(id)}
            disabled={moving.busy}
            onToggle={toggle}
          />
          {moving.busy ? (
            <Button variant="contained" sx={{ justifySelf: 'start' }} onClick={moving.stop}>
              Stop
            </Button>
          ) : (
            <Button
              variant="contained"
              sx={{ justifySelf: 'start' }}
              disabled={going.length === 0}
              onClick={() =>
                void moving.move(
                  going.map(({ id }) => id),
                  where.id,
                )
              }
            >
              Move {count(going.length, 'child', 'children')} to {where.name}
            </Button>
          )}
        </>
      )}
      {moving.busy && (
        <LinearProgress
          variant="determinate"
          value={(100 * moving.moved) / Math.max(1, moving.all)}
          aria-label="Children are being moved"
        />
      )}
      {moving.all > 0 && !moving.busy && (
        <Typography role="status">
          {moving.moved} of {moving.all} moved, with everything that was seen of them.
        </Typography>
      )}
      {moving.error && <Alert severity="error">{moving.error}</Alert>}
    </Card>
  );
}
