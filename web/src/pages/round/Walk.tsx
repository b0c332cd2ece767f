import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useEffect, useState } from 'react';
import type { RoundKit } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { count } from '../../words';
import { RowsLine, type ChairLook } from './RowsLine';
import { ScanCard } from './ScanCard';
import { plan, useNow, useWakeLock, type Round } from './useRound';
import { VisitCard } from './VisitCard';
import {
  childOf,
  clock,
  mine,
  minutesWords,
  present,
  questionOf,
  sameScan,
  scanSeconds,
  stopSeconds,
  waits,
  type RoundState,
  type ScanKey,
  type Stop,
} from './walk';

/** So many seconds late before anything is said. */
const LATE = 30;
/** What is looked at in a child that was added by hand. */
const FIRST_CHECKS = 2;

const Floor = styled('div')(({ theme }) => ({
  height: '100%',
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(380px, 46%)',
  gridTemplateRows: 'auto minmax(0, 1fr)',
  [theme.breakpoints.down(1100)]: { gridTemplateColumns: 'minmax(0, 1fr)' },
}));

interface Props {
  kit: RoundKit;
  round: Round;
  state: RoundState;
}

/** The walk itself: the next child large, the row beside it, time left against the plan. */
export function Walk({ kit, round, state }: Props) {
  const [chosen, setChosen] = useState<string>();
  const [byHand, setByHand] = useState<ScanKey>();
  const [open, setOpen] = useState<'row' | 'scan' | 'two'>();
  const [busy, setBusy] = useState(false);
  useWakeLock();
  const todo = mine(state, round.device);
  const stop = todo.find(({ child }) => child === chosen) ?? todo[0];
  const child = stop && childOf(kit, stop.child);
  const scan = byHand ?? state.scans.find((one) => !state.scanned.some((other) => sameScan(one, other)));

  // Whoever stands before a child has taken it: nobody is visited twice.
  const { device } = round;
  const taken = stop && state.takenBy.get(stop.child) === device;
  useEffect(() => {
    if (stop && !scan && !taken) round.about(state, 'take', [stop.child], 'Taken');
    // Once for each child that comes up.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stop?.child, scan === undefined, taken]);

  const replaced = (stops: Stop[]) => round.replan(state, stops);
  const withStop = (next: Stop) =>
    replaced(state.stops.map((one) => (one.child === next.child ? next : one)));
  const after = stop && todo[todo.indexOf(stop) + 1];

  const anew = async (seconds: number) => {
    setBusy(true);
    const done = new Set([...state.visited.keys(), ...state.skipped, ...others(state, device)]);
    const scans = state.scans.filter((one) => !state.scanned.some((other) => sameScan(one, other)));
    try {
      const next = await plan(
        questionOf(kit, {
          ...state,
          scans,
          seconds: Math.max(60, seconds),
          absent: state.absent,
          pins: new Set(),
          done,
        }),
      );
      const kept = state.stops.filter((one) => done.has(one.child));
      replaced([...kept, ...next.stops.map(({ child: id, checks }) => ({ child: id, checks }))]);
    } finally {
      setBusy(false);
    }
  };

  const goTo = (id: string) => {
    const found = childOf(kit, id);
    if (!found) return;
    if (!state.stops.some((one) => one.child === id)) {
      const best = found.checks.toSorted((a, b) => b.points - a.points).slice(0, FIRST_CHECKS);
      const checks = found.checks.filter((check) => best.includes(check)).map(({ target }) => target);
      const index = state.stops.findIndex(
        (one) => (childOf(kit, one.child)?.seatOrder ?? 0) > found.seatOrder,
      );
      replaced(state.stops.toSpliced(index < 0 ? state.stops.length : index, 0, { child: id, checks }));
    }
    if (state.skipped.has(id)) round.about(state, 'take', [id], 'Taken');
    if (state.absent.has(id)) round.about(state, 'present', [id], `${found.name}: here after all`);
    setChosen(id);
    setOpen(undefined);
  };

  return (
    <Floor>
      <Head
        kit={kit}
        round={round}
        state={state}
        busy={busy}
        open={open}
        onOpen={(what) => setOpen(open === what ? undefined : what)}
        onAnew={(seconds) => void anew(seconds)}
      />
      <Box sx={{ minHeight: 0, overflow: 'hidden', display: open ? { xs: 'none', lg: 'block' } : 'block' }}>
        {scan ? (
          <ScanCard
            key={`${scan.target} ${scan.part}`}
            kit={kit}
            round={round}
            state={state}
            scan={scan}
            onDone={(tapped) => {
              setByHand(undefined);
              if (tapped.length > 0) replaced(withCloseUp(kit, state, tapped, scan.target));
            }}
            onLeave={() => {
              setByHand(undefined);
              round.replan(
                { ...state, scans: state.scans.filter((one) => !sameScan(one, scan)) },
                state.stops,
              );
            }}
          />
        ) : stop && child ? (
          <VisitCard
            key={child.id}
            round={round}
            state={state}
            stop={stop}
            child={child}
            next={after && childOf(kit, after.child)?.name}
            onChecks={(checks) => withStop({ ...stop, checks })}
            onSwap={
              after &&
              (() => {
                setChosen(undefined);
                replaced(swapped(state.stops, stop, after));
              })
            }
            onLeave={() => setChosen(undefined)}
          />
        ) : (
          <Over kit={kit} round={round} state={state} />
        )}
      </Box>
      <Box
        sx={{
          minHeight: 0,
          overflow: 'auto',
          p: 1.5,
          display: open ? 'grid' : { xs: 'none', lg: 'grid' },
          gap: 1.5,
          alignContent: 'start',
        }}
      >
        {open === 'scan' ? (
          <ScanByHand
            kit={kit}
            onChoose={(one) => {
              setByHand(one);
              setOpen(undefined);
            }}
          />
        ) : open === 'two' ? (
          <Together kit={kit} round={round} state={state} />
        ) : (
          <>
            <RowsLine
              kit={kit}
              walk={state.stops
                .filter((one) => !state.skipped.has(one.child) && !state.absent.has(one.child))
                .map((one) => one.child)}
              look={(id) => chairLook(state, id, stop?.child, device)}
              onTap={goTo}
            />
            <Typography sx={{ color: 'text.secondary' }}>
              Tap a chair to go there now; one that is not in the plan is taken in.
            </Typography>
          </>
        )}
      </Box>
    </Floor>
  );
}

/** Children whom another device has taken and not visited yet. */
function others(state: RoundState, device: string): string[] {
  return [...state.takenBy].filter(([, by]) => by !== device).map(([child]) => child);
}

function swapped(stops: Stop[], one: Stop, other: Stop): Stop[] {
  return stops.map((stop) => (stop === one ? other : stop === other ? one : stop));
}

/** The stops with those who were tapped in a scan: they get that look close up. */
function withCloseUp(kit: RoundKit, state: RoundState, tapped: string[], target: string): Stop[] {
  const stops = state.stops.map((stop) =>
    tapped.includes(stop.child) && !stop.checks.includes(target)
      ? { ...stop, checks: [target, ...stop.checks] }
      : stop,
  );
  const order = (id: string) => childOf(kit, id)?.seatOrder ?? 0;
  const more = tapped.filter((id) => !stops.some((stop) => stop.child === id));
  const all = [...stops, ...more.map((child) => ({ child, checks: [target] }))];
  return all.sort((a, b) => order(a.child) - order(b.child));
}

function chairLook(state: RoundState, id: string, now: string | undefined, device: string): ChairLook {
  const planned = state.stops.some((stop) => stop.child === id);
  const elsewhere = (state.takenBy.get(id) ?? device) !== device;
  if (state.absent.has(id)) return { className: 'away', words: 'absent' };
  if (state.visited.has(id)) return { className: 'done', below: 'seen', words: 'seen' };
  if (state.skipped.has(id)) return { className: '', below: 'skipped', words: 'passed over' };
  if (id === now) return { className: 'lit now', below: 'now', words: 'now' };
  if (elsewhere)
    return { className: planned ? 'lit' : '', below: 'other', words: 'with the other one who walks' };
  return planned ? { className: 'lit', words: 'still to come' } : { className: '', words: 'not in the plan' };
}

interface HeadProps extends Props {
  busy: boolean;
  open: string | undefined;
  onOpen: (what: 'row' | 'scan' | 'two') => void;
  onAnew: (seconds: number) => void;
}

/** How far the walk is, and how it stands with the time. */
function Head({ kit, round, state, busy, open, onOpen, onAnew }: HeadProps) {
  const now = useNow();
  const elapsed = (now - Date.parse(state.startedAt)) / 1000;
  const left = state.minutes * 60 - elapsed;
  const toDo = state.stops.filter((stop) => waits(state, stop));
  const scansToDo = state.scans.filter((one) => !state.scanned.some((other) => sameScan(one, other)));
  const planned =
    toDo.reduce((sum, stop) => sum + stopSeconds(kit, stop), 0) +
    scansToDo.reduce((sum, one) => sum + scanSeconds(kit, one, state.absent), 0);
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
        <Stack
          direction="row"
          spacing={1}

          role="status"
          sx={{ flexBasis: '100%', alignItems: 'center' }}
        >
          <span>
            The rest was planned for {minutesWords(each)}: {minutesWords(late)} more than are left.
          </span>
          <Button
            variant="outlined"
            loading={busy}
            onClick={() => onAnew(left * Math.max(1, state.walkers.size))}
          >
            Plan the rest anew
          </Button>
        </Stack>
      )}
    </Stack>
  );
}

/** Everything has been walked to. */
function Over({ round, state }: Props) {
  const elsewhere = state.stops.filter((stop) => waits(state, stop)).length;
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
function ScanByHand({ kit, onChoose }: { kit: RoundKit; onChoose: (scan: ScanKey) => void }) {
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
        <Stack
          direction="row"
          spacing={0.75}

          role="group"
          aria-label="Whom"
          sx={{ flexWrap: 'wrap' }}
        >
          {kit.parts.map(({ key, name }) => (
            <Button variant="pill" key={key} onClick={() => onChoose({ target, part: key })}>
              {name}
            </Button>
          ))}
        </Stack>
      )}
    </>
  );
}

/** Two walk at once: each takes a part of the rows. */
function Together({ kit, round, state }: Props) {
  const left = state.stops.filter((stop) => waits(state, stop));
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
      <Stack
        direction="row"
        spacing={0.75}

        role="group"
        aria-label="I take"
        sx={{ flexWrap: 'wrap' }}
      >
        {half.length > 0 && (
          <Button variant="pill" onClick={() => take(half, 'Took the second half')}>
            The second half: {half.length}
          </Button>
        )}
        {parts.map(({ key, name, stops }) => (
          <Button variant="pill" key={key} onClick={() => take(stops, `Took ${name}`)}>
            {name}: {stops.length}
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
