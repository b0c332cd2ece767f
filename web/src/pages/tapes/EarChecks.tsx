import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Marker, TapePage, TapeSpot } from '../../api/client';
import { useUnit } from '../../parts/units';
import { RunEar, type NamedNote } from '../../parts/RunEar';
import { TakeCents } from '../../parts/TakeCents';
import { nearWords } from '../../words/listening';
import { centsWords, colouredName, markerName } from '../../words/markers';
import { capital } from '../../words/text';
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
      {markers.map(({ position, spot }, at) => (
        <li key={position.finger}>
          <EarCheck page={page} spots={spots} position={position} spot={spot} log={log} says={at === 0} />
        </li>
      ))}
    </Box>
  );
}

interface CheckProps extends Props {
  position: Marker;
  spot: TapeSpot;
  /** Whether it says that nothing that is heard is kept. */
  says?: boolean;
}

/** One marker: what to compare it with, tones to hear, and what was heard. */
export function EarCheck({ page, spots, position, spot, log, says = true }: CheckProps) {
  const proofs = proofsOf(position, page.positions, spots, page.openStrings);
  const [unit] = useUnit();
  const [chosen, setChosen] = useState<string>();
  const [typed, setTyped] = useState('');
  const proof = proofs.find(({ key }) => key === chosen) ?? proofs[0];
  if (!proof) return null;
  const cents = centsOf(typed);
  const move = moveOf(spot, position);
  const heard = (what: 'true' | 'high' | 'low' | number, microphone = false) => {
    const of = typeof what === 'number' ? { cents: what } : { heard: what };
    // A tone from the speaker is nothing that the microphone compares with: it is the tuner.
    const kind = microphone && proof.kind === 'tone' ? 'tuner' : proof.kind;
    log(
      { kind: 'heard', finger: position.finger, proof: kind, ...of, ...(microphone && { microphone }) },
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
      <RunEar
        key={proof.key}
        name={`By the microphone, ${name}`}
        begin="By the microphone"
        instrument={page.instrument}
        notes={proof.played}
        says={says}
        overWords={({ cents }) => provedWords(proof.played, cents.at(-1) ?? 0)}
        after={({ cents }, again) => (
          <TakeCents cents={cents.at(-1) ?? 0} onTake={(whole) => heard(whole, true)} onAgain={again} />
        )}
      />
    </Box>
  );
}

/** `3 on D: 14 cents high beside open G.` */
function provedWords(played: readonly NamedNote[], cents: number): string {
  const [against, marker] = played.length > 1 ? played : [undefined, ...played];
  return `${capital(marker?.words ?? '')}: ${nearWords(cents)}${against ? ` beside ${against.words}` : ''}.`;
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
