import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type SyntheticEvent } from 'react';
import { ApiProblem, api, unwrap, type TapePage, type TapeSpot } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { rulerWords, toMm, useUnit, type Unit } from '../../parts/units';
import { centsWords, markerName } from '../../words/markers';
import { moveWords, shownFingers } from './board';
import type { Log } from './useWork';

/** Millimetres or inches in 32nds. */
export function UnitChips() {
  const [unit, setUnit] = useUnit();
  return (
    <OneOf
      name="Unit"
      value={unit}
      options={[
        ['mm', 'mm'],
        ['in', '1/32 in'],
      ]}
      onChoose={setUnit}
    />
  );
}

const EXAMPLE: Record<Unit, string> = { mm: 'such as 328', in: 'such as 12 29/32' };

/** What the server thinks of markers on this string, before anything is kept. */
async function look(page: TapePage, lengthMm: number, edges: Record<string, number>) {
  const { settings } = page;
  return unwrap(
    api.POST('/api/calc/tapes', {
      body: {
        instrument: page.instrument,
        stringLengthMm: lengthMm,
        temperament: settings.temperament,
        align: settings.align,
        stripMm: settings.stripMm,
        offsetMm: settings.offsetMm,
        toleranceCents: settings.toleranceCents,
        fingers: page.positions.map(({ finger }) => finger),
        measured: Object.entries(edges).map(([finger, edgeMm]) => ({ finger, edgeMm })),
      },
    }),
  );
}

/** The string, nut to bridge. */
export function LengthField({ page, log }: { page: TapePage; log: Log }) {
  const [unit] = useUnit();
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState<string>();
  const keep = async (event: SyntheticEvent) => {
    event.preventDefault();
    const mm = toMm(typed, unit);
    if (mm === undefined || mm <= 0) {
      setProblem(`Type a length in ${unit === 'mm' ? 'millimetres' : 'inches'}, ${EXAMPLE[unit]}.`);
      return;
    }
    const far = farWords(page, mm);
    if (far) {
      setProblem(far);
      return;
    }
    try {
      await look(page, mm, {});
    } catch (error) {
      if (error instanceof ApiProblem) {
        setProblem(error.details.join(' ') || error.message);
        return;
      }
      // Without network it is kept here and judged when it is sent.
    }
    log({ kind: 'measured', lengthMm: mm }, `string ${rulerWords(mm, unit)}`);
    setTyped('');
    setProblem(undefined);
  };
  return (
    <Stack direction="row" spacing={1} component="form" noValidate onSubmit={(event) => void keep(event)}>
      <TextField
        label={`String, nut to bridge (${unit === 'mm' ? 'mm' : 'in'})`}
        placeholder={
          page.stringLengthMm === undefined ? EXAMPLE[unit] : rulerWords(page.stringLengthMm, unit)
        }
        value={typed}
        error={problem !== undefined}
        helperText={problem}
        onChange={({ target }) => {
          setTyped(target.value);
          setProblem(undefined);
        }}
        slotProps={{ htmlInput: { inputMode: 'decimal' }, inputLabel: { shrink: true } }}
        sx={{ flex: 1, maxWidth: 340 }}
      />
      <Button type="submit" variant="outlined" sx={{ height: 56 }}>
        Save
      </Button>
    </Stack>
  );
}

/** A length that is far from what is usual for the size, with what was probably meant. */
function farWords(page: TapePage, mm: number): string | undefined {
  const FAR = 0.15;
  const usual = page.usualLengthMm;
  const near = (value: number) => Math.abs(value - usual) <= usual * FAR;
  if (near(mm)) return undefined;
  const words = `A ${page.instrument} ${page.size} has some ${Math.round(usual)} mm from nut to bridge: measure again.`;
  if (near(mm * 25.4)) return `${words} In inches it would be ${(mm * 25.4).toFixed(1)} mm.`;
  if (near(mm * 10)) return `${words} In centimetres it would be ${mm * 10} mm.`;
  const nearest = page.usual.toSorted((a, b) => Math.abs(a.lengthMm - mm) - Math.abs(b.lengthMm - mm))[0];
  return nearest && Math.abs(nearest.lengthMm - mm) <= nearest.lengthMm * FAR
    ? `${words} That is usual for a ${nearest.instrument} ${nearest.size}: is it the right instrument?`
    : words;
}

/** Where markers were found, and what that comes to. */
export function EdgeFields({ page, spots, log }: { page: TapePage; spots: TapeSpot[]; log: Log }) {
  const [unit] = useUnit();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string>();
  const markers = shownFingers(spots, page.positions).filter(
    ({ spot }) => spot.presence === 'on' || spot.presence === 'loose' || spot.wanted,
  );
  const filled = Object.entries(typed).filter(([, text]) => text.trim() !== '');
  const keep = async (event: SyntheticEvent) => {
    event.preventDefault();
    const edges: Record<string, number> = {};
    for (const [finger, text] of filled) {
      const mm = toMm(text, unit);
      if (mm === undefined) {
        setProblem(`Marker ${finger}: “${text}” is no length in ${unit === 'mm' ? 'mm' : 'inches'}.`);
        return;
      }
      edges[finger] = mm;
    }
    try {
      await look(page, page.stringLengthMm ?? page.usualLengthMm, edges);
    } catch (error) {
      if (error instanceof ApiProblem) {
        setProblem(error.details.join(' ') || error.message);
        return;
      }
    }
    log({ kind: 'positions', edges }, `measured ${filled.map(([finger]) => finger).join(', ')}`);
    setTyped({});
    setProblem(undefined);
  };
  return (
    <Box component="form" noValidate onSubmit={(event) => void keep(event)} sx={{ display: 'grid', gap: 1 }}>
      <Typography sx={{ color: 'text.secondary' }}>
        From the nut to the nearer edge of each marker. Only what you type is kept.
      </Typography>
      {markers.map(({ spot, position }) => (
        <Stack direction="row" spacing={1.5} key={spot.spot} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
          <TextField
            label={`Marker ${markerName(spot.spot)} (${unit === 'mm' ? 'mm' : 'in'})`}
            size="small"
            value={typed[spot.spot] ?? ''}
            placeholder={rulerWords(position.edgeMm, unit)}
            onChange={({ target }) => {
              setTyped((all) => ({ ...all, [spot.spot]: target.value }));
              setProblem(undefined);
            }}
            slotProps={{ htmlInput: { inputMode: 'decimal' }, inputLabel: { shrink: true } }}
            sx={{ width: 170 }}
          />
          <Typography sx={{ color: position.measured?.verdict === 'move' ? 'error.main' : 'text.primary' }}>
            {position.measured
              ? `${centsWords(position.measured.cents)}, ${moveWords(position.measured.moveMm, unit)}`
              : 'not measured'}
          </Typography>
        </Stack>
      ))}
      {problem && (
        <Typography role="alert" sx={{ color: 'error.main' }}>
          {problem}
        </Typography>
      )}
      <Button type="submit" variant="outlined" disabled={filled.length === 0} sx={{ justifySelf: 'start' }}>
        Save what was measured
      </Button>
    </Box>
  );
}
