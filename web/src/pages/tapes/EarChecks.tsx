import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Marker, TapePage, TapeSpot } from '../../api/client';
import { useUnit } from '../../parts/units';
import { centsWords, colouredName, markerName } from '../../words/markers';
import { moveOf, moveWords, spotWords } from './board';
import { centsOf, heardWords, proofsOf, type Proof } from './proofs';
import { FingerDot, Tone } from './Tones';
import type { Log } from './useWork';

interface Props {
  page: TapePage;
  spots: TapeSpot[];
  log: Log;
}

/** The markers to prove by ear, in the order in which each can be proved. */
export function EarChecks({ page, spots, log }: Props) {
  const markers = page.placingOrder.flatMap((finger) => {
    const position = page.positions.find((one) => one.finger === finger);
    const spot = spots.find((one) => one.spot === finger);
    return position && spot && spot.presence !== 'taken' ? [{ position, spot }] : [];
  });
  if (markers.length === 0) return <Typography>No marker is on, so there is nothing to hear.</Typography>;
  return (
    <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1.5 }}>
      {markers.map(({ position, spot }) => (
        <li key={position.finger}>
          <EarCheck page={page} spots={spots} position={position} spot={spot} log={log} />
        </li>
      ))}
    </Box>
  );
}

/** One marker: what to compare it with, tones to hear, and what was heard. */
export function EarCheck({ page, spots, position, spot, log }: Props & { position: Marker; spot: TapeSpot }) {
  const proofs = proofsOf(position, page.positions, spots, page.openStrings);
  const [unit] = useUnit();
  const [chosen, setChosen] = useState<string>();
  const [typed, setTyped] = useState('');
  const proof = proofs.find(({ key }) => key === chosen) ?? proofs[0];
  if (!proof) return null;
  const cents = centsOf(typed);
  const move = moveOf(spot, position);
  const heard = (what: 'true' | 'high' | 'low' | number) => {
    const of = typeof what === 'number' ? { cents: what } : { heard: what };
    log(
      { kind: 'heard', finger: position.finger, proof: proof.kind, ...of },
      `${markerName(spot.spot)} ${heardWords(what)}`,
    );
    setTyped('');
  };
  const name = `marker ${markerName(spot.spot)}`;
  return (
    <Box role="group" aria-label={`Hear ${name}`} sx={{ display: 'grid', gap: 0.75 }}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h4" sx={{ fontWeight: 700, fontSize: '1.15rem' }}>
          <FingerDot finger={spot.spot} markers={page.markers} />
          {colouredName(spot.spot, page.markers)}
        </Typography>
        <Typography sx={{ color: spot.verdict === 'move' ? 'error.main' : 'text.secondary' }}>
          {spotWords(spot)}
          {spot.verdict === 'move' && move !== undefined && `: ${moveWords(move, unit)}`}
        </Typography>
      </Stack>
      <Ways proofs={proofs} proof={proof} name={name} onChoose={setChosen} />
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        {proof.tones.map((tone) => (
          <Tone key={`${tone.name} ${tone.hz}`} hz={tone.hz}>
            {tone.name}
          </Tone>
        ))}
        {proof.kind === 'tuner' ? (
          <>
            <TextField
              label={`Cents off, ${name}`}
              value={typed}
              size="small"
              sx={{ width: 190 }}
              slotProps={{ htmlInput: { inputMode: 'text' } }}
              error={typed !== '' && cents === undefined}
              helperText={typed !== '' && cents === undefined ? 'A number such as +7 or -12.' : undefined}
              onChange={({ target }) => setTyped(target.value)}
              onKeyDown={({ key }) => key === 'Enter' && cents !== undefined && heard(cents)}
            />
            <Button
              variant="contained"
              disabled={cents === undefined}
              onClick={() => cents !== undefined && heard(cents)}
            >
              {cents === undefined ? 'Save' : `Save ${centsWords(cents)}`}
            </Button>
          </>
        ) : (
          (['low', 'true', 'high'] as const).map((what) => (
            <Button
              key={what}
              variant={what === 'true' ? 'contained' : 'outlined'}
              aria-label={`${name} is ${what}`}
              onClick={() => heard(what)}
            >
              {what === 'true' ? 'True' : what === 'low' ? 'Low' : 'High'}
            </Button>
          ))
        )}
      </Stack>
    </Box>
  );
}

function Ways({
  proofs,
  proof,
  name,
  onChoose,
}: {
  proofs: Proof[];
  proof: Proof;
  name: string;
  onChoose: (key: string) => void;
}) {
  return (
    <TextField
      select
      size="small"
      label={`How to prove ${name}`}
      value={proof.key}
      onChange={({ target }) => onChoose(target.value)}
      slotProps={{ select: { native: true } }}
      sx={{ maxWidth: 520 }}
    >
      {proofs.map(({ key, words }) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </TextField>
  );
}
