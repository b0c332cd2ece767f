import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { TapePage, TapeSpot } from '../../api/client';
import { Callout } from '../../parts/page';
import { toMm, useUnit } from '../../parts/units';
import { colouredName, fingerWords, markerName } from '../../words/markers';
import { FingerDot } from './Tones';
import type { Log } from './useWork';

type Turn = 'loose' | 'missing' | 'placed' | 'thinned' | 'back';

const LABELS: Record<Turn, string> = {
  loose: 'comes off',
  missing: 'gone',
  placed: 'laid',
  thinned: 'taken away',
  back: 'on again',
};

/** What can be said of a marker as it is now. */
function turnsOf({ presence }: TapeSpot): Turn[] {
  if (presence === 'on') return ['loose', 'missing'];
  if (presence === 'loose') return ['placed', 'missing'];
  return presence === 'taken' ? ['back'] : ['placed'];
}

/** What was found and done, one tap each. */
export function Found({ page, spots, log }: { page: TapePage; spots: TapeSpot[]; log: Log }) {
  const shown = spots.filter(({ wanted, presence }) => wanted || presence !== 'never');
  const wanted = spots.filter((one) => one.wanted && one.presence === 'never').map(({ spot }) => spot);
  const on = spots.filter(({ presence }) => presence === 'on');
  const more = page.positions.filter(({ finger }) => !spots.some(({ spot }) => spot === finger));
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
        {on.length > 0 && (
          <Button variant="contained" onClick={() => log({ kind: 'held' }, 'still there, still true')}>
            All still there, still true
          </Button>
        )}
        {wanted.length > 0 && (
          <Button
            variant="contained"
            onClick={() => log({ kind: 'placed', spots: wanted }, `laid ${wanted.join(', ')}`)}
          >
            The set is laid
          </Button>
        )}
      </Stack>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 0.75 }}>
        {shown.map((spot) => (
          <Stack
            direction="row"
            spacing={0.75}
            component="li"
            key={spot.spot}
            sx={{ alignItems: 'center', flexWrap: 'wrap' }}
          >
            <Typography sx={{ minWidth: page.markers.colours ? 150 : 88, fontWeight: 700 }}>
              <FingerDot finger={spot.spot} markers={page.markers} />
              {colouredName(spot.spot, page.markers)}
            </Typography>
            {turnsOf(spot).map((turn) => (
              <Button
                variant="pill"
                key={turn}
                aria-label={`${markerName(spot.spot)} ${LABELS[turn]}`}
                onClick={() =>
                  log({ kind: turn, spots: [spot.spot] }, `${markerName(spot.spot)} ${LABELS[turn]}`)
                }
              >
                {LABELS[turn]}
              </Button>
            ))}
          </Stack>
        ))}
      </Box>
      {more.length > 0 && page.markers.kind !== 'none' && (
        <Stack direction="row" spacing={0.75} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
          <Typography sx={{ minWidth: 88 }}>Laid as well</Typography>
          {more.map(({ finger }) => (
            <Button
              variant="pill"
              key={finger}
              aria-label={`${fingerWords(finger)} laid as well`}
              onClick={() => log({ kind: 'placed', spots: [finger] }, `${fingerWords(finger)} laid`)}
            >
              {fingerWords(finger)}
            </Button>
          ))}
        </Stack>
      )}
      <Bridge log={log} />
    </Box>
  );
}

/** What puts every marker in doubt. */
function Bridge({ log }: { log: Log }) {
  const [unit] = useUnit();
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const moved = toMm(typed.replace('−', '-'), unit);
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap' }}>
        <Button variant="outlined" onClick={() => log({ kind: 'strings' }, 'new strings')}>
          New strings
        </Button>
        <Button variant="outlined" aria-expanded={open} onClick={() => setOpen(!open)}>
          Bridge moved
        </Button>
      </Stack>
      {open && (
        <>
          <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'flex-start' }}>
            <TextField
              label={`Moved by (${unit}), if you know`}
              size="small"
              value={typed}
              placeholder="+3 for a longer string"
              error={typed !== '' && moved === undefined}
              helperText={typed !== '' && moved === undefined ? 'A number such as +3 or -2.' : undefined}
              onChange={({ target }) => setTyped(target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
            <Button
              variant="contained"
              disabled={typed !== '' && moved === undefined}
              onClick={() => {
                log({ kind: 'bridge', ...(moved !== undefined && { movedMm: moved }) }, 'bridge moved');
                setOpen(false);
                setTyped('');
              }}
            >
              Save
            </Button>
          </Stack>
          <Callout>
            A bridge that leans or fell, a crack, an open seam: a luthier’s work. Every marker is looked at
            again afterwards.
          </Callout>
        </>
      )}
    </>
  );
}
