import Stack from '@mui/material/Stack';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import type { TuneWishes } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
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
const KEYS = ['C', 'G', 'D', 'A', 'E', 'F', 'Bb', 'Eb', 'Am', 'Em', 'Bm', 'F#m', 'C#m', 'Dm', 'Gm', 'Cm'];
/** Beats a minute. */
const TEMPOS = ['', '50', '60', '70', '80', '90', '100', '120'];
const METERS = ['2/4', '3/4', '4/4', '6/8'];

/** The last note goes with the bar line behind it, if there is one. */
const withoutLast = (notes: string[]) => notes.slice(0, notes.at(-1) === '|' ? -2 : -1);

function withTempo(wishes: TuneWishes, tempo: string): TuneWishes {
  const next = { ...wishes };
  delete next.tempo;
  return tempo === '' ? next : { ...next, tempo: Number(tempo) };
}

/** A tempo that was read from a file may be another than ours. */
const withChosen = (options: string[], chosen: string) =>
  options.includes(chosen) ? options : [...options, chosen].toSorted((a, b) => Number(a) - Number(b));

/** `F♯ minor`; a meter as it is. */
const keyWords = (name: string) => (name.endsWith('m') ? `${sign(name.slice(0, -1))} minor` : sign(name));

const sign = (name: string) => name.replace('#', '♯').replace(/b$/, '♭');

/** Notes tapped one after the other; one alone is a note looked up. */
export function TuneBuilder({
  wishes,
  onChange,
  file,
}: {
  wishes: TuneWishes;
  onChange: (wishes: TuneWishes) => void;
  /** Where a tune is read from a file instead. */
  file: ReactNode;
}) {
  const [octave, setOctave] = useState(4);
  const [eighths, setEighths] = useState(2);
  const notes = (wishes.notes ?? '').split(' ').filter(Boolean);
  const [adding, setAdding] = useState(notes.length > 1);
  const put = (all: string[]) => onChange({ ...wishes, notes: all.join(' ') });
  const tap = (pitch: string) => {
    const note = eighths === 2 ? pitch : `${pitch}:${eighths}`;
    put(adding ? [...notes, note] : [note]);
  };
  return (
    <Card aria-label="Build" sx={{ display: 'grid', gap: 1.25, mb: 2 }}>
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <OneOf
          name="What to build"
          value={adding ? 'tune' : 'note'}
          options={[
            ['note', 'One note'],
            ['tune', 'A tune'],
          ]}
          onChoose={(what) => setAdding(what === 'tune')}
        />
        <Typography sx={{ color: 'text.secondary' }}>
          {adding ? 'Each tap adds a note.' : 'Each tap shows that note.'}
        </Typography>
      </Stack>
      <Stack direction="row" spacing={0.5} role="group" aria-label="Note" sx={{ flexWrap: 'wrap' }}>
        {NAMES.map((name) => (
          <Button
            variant="pill"
            key={name}
            onClick={() => tap(`${name}${octave}`)}
            sx={{ minWidth: 48, px: 1 }}
          >
            {sign(name)}
          </Button>
        ))}
        {adding && (
          <Button variant="pill" onClick={() => tap('-')} aria-label="Rest">
            rest
          </Button>
        )}
        {adding && (
          <Button
            variant="pill"
            disabled={notes.length === 0 || notes.at(-1) === '|'}
            onClick={() => put([...notes, '|'])}
          >
            bar line
          </Button>
        )}
      </Stack>
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap' }}>
        <OneOf
          name="Octave"
          value={String(octave)}
          options={OCTAVES.map(([number, name]) => [String(number), name] as const)}
          onChoose={(number) => setOctave(Number(number))}
        />
        {adding && (
          <OneOf
            name="Length"
            value={String(eighths)}
            options={LENGTHS.map(([number, name]) => [String(number), name] as const)}
            onChoose={(number) => setEighths(Number(number))}
          />
        )}
      </Stack>
      {adding && file}
      {adding && (
        <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <Button variant="outlined" disabled={notes.length < 2} onClick={() => put(withoutLast(notes))}>
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
          <Select
            label="Tempo"
            value={String(wishes.tempo ?? '')}
            options={withChosen(TEMPOS, String(wishes.tempo ?? ''))}
            words={(tempo) => (tempo === '' ? 'not said' : `${tempo} beats a minute`)}
            onChange={(tempo) => onChange(withTempo(wishes, tempo))}
          />
        </Stack>
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
  words = keyWords,
  onChange,
}: {
  label: string;
  value: string;
  options: string[];
  words?: (option: string) => string;
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
          {words(option)}
        </option>
      ))}
    </TextField>
  );
}
