import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { TuneWishes } from '../../api/client';
import { Chip } from '../../parts/Chip';
import { Card } from '../../parts/page';

const NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'G#', 'A', 'Bb', 'B'];
const OCTAVES = [
  [3, 'low'],
  [4, 'middle'],
  [5, 'high'],
] as const;
const LENGTHS = [
  [1, 'eighth'],
  [2, 'quarter'],
  [4, 'half'],
  [8, 'whole'],
] as const;
const KEYS = ['C', 'G', 'D', 'A', 'F', 'Bb'];
const METERS = ['2/4', '3/4', '4/4', '6/8'];

const sign = (name: string) => name.replace('#', '♯').replace(/b$/, '♭');

/** Notes tapped one after the other; one alone is a note looked up. */
export function TuneBuilder({
  wishes,
  onChange,
}: {
  wishes: TuneWishes;
  onChange: (wishes: TuneWishes) => void;
}) {
  const [octave, setOctave] = useState(4);
  const [eighths, setEighths] = useState(2);
  const [adding, setAdding] = useState(false);
  const notes = (wishes.notes ?? '').split(' ').filter(Boolean);
  const put = (all: string[]) => onChange({ ...wishes, notes: all.join(' ') });
  const tap = (pitch: string) => {
    const note = eighths === 2 ? pitch : `${pitch}:${eighths}`;
    put(adding ? [...notes, note] : [note]);
  };
  return (
    <Card aria-label="Build" sx={{ display: 'grid', gap: 1.25, mb: 2 }}>
      <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap', alignItems: 'center' }}>
        <Chip aria-pressed={!adding} onClick={() => setAdding(false)}>
          One note
        </Chip>
        <Chip aria-pressed={adding} onClick={() => setAdding(true)}>
          A tune
        </Chip>
        <Typography sx={{ color: 'text.secondary' }}>
          {adding ? 'Each tap adds a note.' : 'Each tap shows that note.'}
        </Typography>
      </Box>
      <Box role="group" aria-label="Note" sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        {NAMES.map((name) => (
          <Chip key={name} onClick={() => tap(`${name}${octave}`)} sx={{ minWidth: 48, px: 1 }}>
            {sign(name)}
          </Chip>
        ))}
        {adding && (
          <Chip onClick={() => tap('-')} aria-label="Rest">
            rest
          </Chip>
        )}
      </Box>
      <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
        <Box role="group" aria-label="Octave" sx={{ display: 'flex', gap: 0.5 }}>
          {OCTAVES.map(([number, name]) => (
            <Chip key={number} aria-pressed={octave === number} onClick={() => setOctave(number)}>
              {name}
            </Chip>
          ))}
        </Box>
        {adding && (
          <Box role="group" aria-label="Length" sx={{ display: 'flex', gap: 0.5 }}>
            {LENGTHS.map(([number, name]) => (
              <Chip key={number} aria-pressed={eighths === number} onClick={() => setEighths(number)}>
                {name}
              </Chip>
            ))}
          </Box>
        )}
      </Box>
      {adding && (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
          <Button variant="outlined" disabled={notes.length < 2} onClick={() => put(notes.slice(0, -1))}>
            Last note away
          </Button>
          <Name key={wishes.name} name={wishes.name ?? ''} onKeep={(name) => onChange({ ...wishes, name })} />
          <Select
            label="Key"
            value={wishes.key ?? 'D'}
            options={KEYS}
            onChange={(key) => onChange({ ...wishes, key })}
          />
          <Select
            label="Meter"
            value={wishes.meter ?? '4/4'}
            options={METERS}
            onChange={(meter) => onChange({ ...wishes, meter })}
          />
        </Box>
      )}
    </Card>
  );
}

function Name({ name, onKeep }: { name: string; onKeep: (name: string) => void }) {
  const [typed, setTyped] = useState(name);
  return (
    <TextField
      size="small"
      label="What it is called"
      value={typed}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={() => typed.trim() !== name && onKeep(typed.trim())}
      onKeyDown={({ key }) => key === 'Enter' && onKeep(typed.trim())}
      slotProps={{ htmlInput: { maxLength: 60 } }}
    />
  );
}

function Select({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: string[];
  onChange: (value: string) => void;
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={({ target }) => onChange(target.value)}
      slotProps={{ select: { native: true } }}
    >
      {options.map((option) => (
        <option key={option} value={option}>
          {sign(option)}
        </option>
      ))}
    </TextField>
  );
}
