import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { RoundKit } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { partWords } from '../../words/looks';
import { count } from '../../words/text';
import { useNow, type Round } from './useRound';
import {
  clock,
  minutesWords,
  plannedSeconds,
  present,
  type RoundState,
  type ScanKey,
  type Stop,
} from './walk';

interface Props {
  kit: RoundKit;
  round: Round;
  state: RoundState;
}

/** So many seconds late before anything is said. */
const LATE = 30;

interface HeadProps extends Props {
  open: string | undefined;
  onOpen: (what: 'row' | 'scan' | 'two') => void;
  onAnew: (seconds: number) => void;
}

/** How far the walk is, and how it stands with the time. */
export function Head({ kit, round, state, open, onOpen, onAnew }: HeadProps) {
  const now = useNow();
  const elapsed = (now - Date.parse(state.startedAt)) / 1000;
  const left = state.minutes * 60 - elapsed;
  const toDo = state.stops.filter(({ waits }) => waits);
  const planned = useMemo(() => plannedSeconds(kit, state), [kit, state]);
  const each = planned / Math.max(1, state.walkers.size);
  const late = each - left;
  return (
    <Stack
      direction="row"
      component="header"
      sx={{
        gridColumn: '1 / -1',
        flexWrap: 'wrap',
        alignItems: 'center',
        columnGap: 1.5,
        rowGap: 0.5,
        px: { xs: 1.5, sm: 2 },
        py: 1,
      }}
    >
      <Box component="h1" sx={{ m: 0, fontSize: '1.15rem', fontWeight: 700 }}>
        {state.visited.size} of {state.stops.length} seen
      </Box>
      <Box role="timer" sx={{ fontSize: '1.15rem', fontVariantNumeric: 'tabular-nums' }}>
        {left >= 0 ? `${clock(left)} left` : `${clock(-left)} over`}
      </Box>
      <Box sx={{ flexGrow: 1, flexBasis: { xs: '100%', sm: 'auto' } }} />
      <Button
        variant="pill"
        aria-expanded={open === 'row'}
        sx={{ display: { lg: 'none' } }}
        onClick={() => onOpen('row')}
      >
        Row
      </Button>
      <Button variant="pill" aria-expanded={open === 'scan'} onClick={() => onOpen('scan')}>
        From afar
      </Button>
      <Button variant="pill" aria-expanded={open === 'two'} onClick={() => onOpen('two')}>
        Together
      </Button>
      <Button variant="pill" onClick={() => round.about(state, 'end', [], 'Round ended')}>
        End
      </Button>
      {late > LATE && toDo.length > 0 && (
        <Stack direction="row" spacing={1} role="status" sx={{ flexBasis: '100%', alignItems: 'center' }}>
          <span>
            The rest was planned for {minutesWords(each)}: {minutesWords(late)} more than are left.
          </span>
          <Button variant="outlined" onClick={() => onAnew(left * Math.max(1, state.walkers.size))}>
            Plan the rest anew
          </Button>
        </Stack>
      )}
    </Stack>
  );
}

/** Everything has been walked to. */
export function Over({ round, state }: Props) {
  const elsewhere = state.stops.filter((stop) => stop.waits).length;
  return (
    <Box sx={{ p: 2, display: 'grid', gap: 1.5, justifyItems: 'start' }}>
      <Typography variant="h2">
        {elsewhere === 0 ? 'Everybody in the plan was seen.' : 'Nobody is left for you.'}
      </Typography>
      {elsewhere > 0 && (
        <Typography>{count(elsewhere, 'child', 'children')} still with the other one who walks.</Typography>
      )}
      <Button variant="contained" size="large" onClick={() => round.about(state, 'end', [], 'Round ended')}>
        End the round
      </Button>
    </Box>
  );
}

/** A look at many, begun by hand. */
export function ScanByHand({ kit, onChoose }: { kit: RoundKit; onChoose: (scan: ScanKey) => void }) {
  const [target, setTarget] = useState<string>();
  const far = kit.scans.filter((scan) => scan.part === '');
  return (
    <>
      <Typography variant="h2">What can be seen from afar</Typography>
      <OneOf
        name="What"
        value={target}
        options={far.map((scan) => [scan.target, scan.name] as const)}
        onChoose={setTarget}
      />
      {target !== undefined && (
        <Stack direction="row" spacing={0.75} role="group" aria-label="Whom" sx={{ flexWrap: 'wrap' }}>
          {kit.parts.map((part) => (
            <Button variant="pill" key={part.key} onClick={() => onChoose({ target, part: part.key })}>
              {partWords(part)}
            </Button>
          ))}
        </Stack>
      )}
    </>
  );
}

/** Two walk at once: each takes a part of the rows. */
export function Together({ kit, round, state }: Props) {
  const left = state.stops.filter((stop) => stop.waits);
  const parts = kit.parts.flatMap((part) => {
    const inPart = new Set(present(kit, part.key, state.absent));
    const stops = left.filter((stop) => inPart.has(stop.child));
    return stops.length > 0 ? [{ ...part, stops }] : [];
  });
  const take = (stops: Stop[], label: string) =>
    round.about(
      state,
      'take',
      stops.map(({ child }) => child),
      label,
    );
  const half = left.slice(Math.ceil(left.length / 2));
  return (
    <>
      <Typography variant="h2">Two walk at once</Typography>
      <Typography>
        Open the Round on the other device and take a part there. Each goes to its own; both see what is
        recorded.
      </Typography>
      <Stack direction="row" spacing={0.75} role="group" aria-label="I take" sx={{ flexWrap: 'wrap' }}>
        {half.length > 0 && (
          <Button variant="pill" onClick={() => take(half, 'Took the second half')}>
            The second half: {half.length}
          </Button>
        )}
        {parts.map((part) => (
          <Button variant="pill" key={part.key} onClick={() => take(part.stops, `Took ${partWords(part)}`)}>
            {partWords(part)}: {part.stops.length}
          </Button>
        ))}
      </Stack>
      <Typography>
        {state.walkers.size > 1
          ? `${state.walkers.size} devices walk this round.`
          : 'Only this device walks so far.'}
      </Typography>
    </>
  );
}

/** Children whom another device has taken and not visited yet. */
export function others(state: RoundState, device: string): string[] {
  return [...state.takenBy].filter(([, by]) => by !== device).map(([child]) => child);
}
