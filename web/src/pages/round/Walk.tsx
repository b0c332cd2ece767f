import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useEffect, useState } from 'react';
import type { RoundKit } from '../../api/client';
import { DrawnFor } from '../../parts/drawings';
import { RowsLine, type ChairLook } from './RowsLine';
import { ScanCard } from './ScanCard';
import { useWakeLock, type Round } from './useRound';
import { VisitCard } from './VisitCard';
import {
  childOf,
  planOf,
  sameScan,
  withCloseUp,
  withStop,
  type RoundState,
  type ScanKey,
  type Stop,
} from './walk';
import { Head, Over, ScanByHand, Together, others } from './WalkHead';

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
  const [begun, setBegun] = useState<string>();
  const [byHand, setByHand] = useState<ScanKey>();
  const [open, setOpen] = useState<'row' | 'scan' | 'two'>();
  useWakeLock();
  const { todo } = state;
  // Who was begun with stays, also when another device took it a moment later: nothing goes away under a thumb.
  const stop =
    state.stops.find((one) => one.child === begun && one.waits) ??
    todo.find(({ child }) => child === chosen) ??
    todo[0];
  const child = stop && childOf(kit, stop.child);
  const scan = byHand ?? state.scans.find((one) => !state.scanned.some((other) => sameScan(one, other)));

  // Whoever stands before a child has taken it: nobody is visited twice.
  const { device } = round;
  const taken = stop && (stop.child === begun || state.takenBy.get(stop.child) === device);
  useEffect(() => {
    if (stop && !scan && !taken) round.about(state, 'take', [stop.child], 'Taken');
    // Once for each child that comes up.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stop?.child, scan === undefined, taken]);

  const replaced = (stops: Stop[]) => round.replan(state, stops);
  const changed = (next: Stop) => replaced(state.stops.map((one) => (one.child === next.child ? next : one)));
  const after = stop && todo[todo.findIndex(({ child }) => child === stop.child) + 1];
  const visiting: Round = {
    ...round,
    observe: (of, observation, label) => {
      setBegun(observation.child);
      round.observe(of, observation, label);
    },
  };

  const anew = (seconds: number) => {
    const done = new Set([...state.visited.keys(), ...state.skipped, ...others(state, device)]);
    const scans = state.scans.filter((one) => !state.scanned.some((other) => sameScan(one, other)));
    const { part, strand, absent } = state;
    const next = planOf(kit, {
      ...(part !== undefined && { part }),
      ...(strand !== undefined && { strand }),
      scans,
      seconds: Math.round(Math.max(60, seconds)),
      absent,
      done,
    });
    const kept = state.stops.filter((one) => done.has(one.child));
    replaced([...kept, ...next.stops.map(({ child: id, checks }) => ({ child: id, checks }))]);
  };

  const leave = () => {
    setBegun(undefined);
    setChosen(undefined);
  };

  const goTo = (id: string) => {
    const found = childOf(kit, id);
    if (!found) return;
    if (!state.stops.some((one) => one.child === id)) replaced(withStop(kit, state.stops, id));
    if (state.skipped.has(id)) round.about(state, 'take', [id], 'Taken');
    if (state.absent.has(id)) round.about(state, 'present', [id], `${found.name}: here after all`);
    setBegun(undefined);
    setChosen(id);
    setOpen(undefined);
  };

  return (
    <Floor>
      <Head
        kit={kit}
        round={round}
        state={state}
        open={open}
        onOpen={(what) => setOpen(open === what ? undefined : what)}
        onAnew={anew}
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
              if (tapped.length > 0) replaced(withCloseUp(kit, state.stops, tapped, scan.target));
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
          <DrawnFor classId={kit.classId} child={child.id} instrument={child.instrument}>
            <VisitCard
              key={child.id}
              round={visiting}
              state={state}
              stop={stop}
              child={child}
              next={after && childOf(kit, after.child)?.name}
              onChecks={(checks) => changed({ ...stop, checks })}
              onSwap={
                after &&
                (() => {
                  setBegun(undefined);
                  setChosen(after.child);
                  replaced(swapped(state.stops, stop, after));
                })
              }
              onLeave={leave}
            />
          </DrawnFor>
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

function swapped(stops: Stop[], one: Stop, other: Stop): Stop[] {
  return stops.map((stop) => (stop === one ? other : stop === other ? one : stop));
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
