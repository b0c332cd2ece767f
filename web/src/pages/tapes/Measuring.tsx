import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type SyntheticEvent } from 'react';
import type { TapePage, TapeSpot } from '../../api/client';
import { useCore } from '../../core/door';
import { tryEntry } from '../../offline/tapes';
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

/** The string, nut to bridge. */
export function LengthField({ page, log }: { page: TapePage; log: Log }) {
  useCore();
  const [unit] = useUnit();
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState<string>();
  const keep = (event: SyntheticEvent) => {
    event.preventDefault();
    const mm = toMm(typed, unit);
    if (mm === undefined || mm <= 0) {
      setProblem(`Type a length in ${unit === 'mm' ? 'millimetres' : 'inches'}, ${EXAMPLE[unit]}.`);
      return;
    }
    const { problem: cannot } = tryEntry(page, { kind: 'measured', lengthMm: mm });
    if (cannot !== undefined) {
      setProblem(cannot);
      return;
    }
    log({ kind: 'measured', lengthMm: mm }, `string ${rulerWords(mm, unit)}`);
    setTyped('');
    setProblem(undefined);
  };
  return (
    <Stack direction="row" spacing={1} component="form" noValidate onSubmit={keep}>
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

/** Where markers were found, and what that comes to. */
export function EdgeFields({ page, spots, log }: { page: TapePage; spots: TapeSpot[]; log: Log }) {
  useCore();
  const [unit] = useUnit();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string>();
  const markers = shownFingers(spots, page.positions).filter(
    ({ spot }) => spot.presence === 'on' || spot.presence === 'loose' || spot.wanted,
  );
  const filled = Object.entries(typed).filter(([, text]) => text.trim() !== '');
  const read = Object.fromEntries(filled.map(([finger, text]) => [finger, toMm(text, unit)]));
  const edges = Object.fromEntries(
    Object.entries(read).flatMap(([finger, mm]) => (mm === undefined ? [] : [[finger, mm] as const])),
  );
  // What the markers come to with what is typed so far.
  const tried = Object.keys(edges).length > 0 ? tryEntry(page, { kind: 'positions', edges }) : {};
  const measuredAt = (finger: string) => {
    const positions = tried.markers?.positions ?? page.positions;
    return positions.find((one) => one.finger === finger)?.measured;
  };
  const keep = (event: SyntheticEvent) => {
    event.preventDefault();
    const [finger, text] = filled.find(([which]) => read[which] === undefined) ?? [];
    if (finger !== undefined && text !== undefined) {
      setProblem(`Marker ${finger}: “${text}” is no length in ${unit === 'mm' ? 'mm' : 'inches'}.`);
      return;
    }
    if (tried.problem !== undefined) {
      setProblem(tried.problem);
      return;
    }
    log({ kind: 'positions', edges }, `measured ${filled.map(([finger]) => finger).join(', ')}`);
    setTyped({});
    setProblem(undefined);
  };
  return (
    <Box component="form" noValidate onSubmit={keep} sx={{ display: 'grid', gap: 1 }}>
      <Typography sx={{ color: 'text.secondary' }}>
        From the nut to the nearer edge of each marker. Only what you type is kept.
      </Typography>
      {markers.map(({ spot, position }) => {
        const measured = measuredAt(position.finger);
        return (
          <Stack
            direction="row"
            spacing={1.5}
            key={spot.spot}
            sx={{ alignItems: 'center', flexWrap: 'wrap' }}
          >
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
            <Typography sx={{ color: measured?.verdict === 'move' ? 'error.main' : 'text.primary' }}>
              {measured
                ? `${centsWords(measured.cents)}, ${moveWords(measured.moveMm, unit)}`
                : 'not measured'}
            </Typography>
          </Stack>
        );
      })}
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
