import IconButton from '@mui/material/IconButton';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { RoundKit, Scan, Strand } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { Card } from '../../parts/page';
import { partWords } from '../../words/looks';
import { count } from '../../words/text';
import { PlanList } from './PlanList';
import { RowsLine, type ChairLook } from './RowsLine';
import type { Round } from './useRound';
import { minutesWords, planOf, present, sameScan, scansWorth, type RoundPlan } from './walk';

const MINUTES = [5, 8, 12, 20];
const MIN_MINUTES = 1;
const MAX_MINUTES = 60;

function Choice({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Stack
      direction="row"
      spacing={0.75}
      role="group"
      aria-label={name}
      sx={{ flexWrap: 'wrap', alignItems: 'center' }}
    >
      {children}
    </Stack>
  );
}

/** Stands for no choice among parts and strands. */
const ALL = 'all';

/** What the round is to be: minutes, whom, what; the plan follows at once. */
export function StartRound({ kit, round }: { kit: RoundKit; round: Round }) {
  const [minutes, setMinutes] = useState(kit.minutes);
  const [part, setPart] = useState<string>();
  const [strand, setStrand] = useState<Strand>();
  const [absent, setAbsent] = useState<ReadonlySet<string>>(new Set());
  const [pins, setPins] = useState<ReadonlySet<string>>(new Set());
  const [out, setOut] = useState<ReadonlySet<string>>(new Set());
  const [left, setLeft] = useState<readonly Scan[]>([]);
  const [tapping, setTapping] = useState<'absent' | 'pin' | 'out'>('absent');
  const inPart = new Set(present(kit, part, new Set()));
  const worth = useMemo(() => scansWorth(kit, absent), [kit, absent]);
  const worthwhile = kit.scans.flatMap((scan, index) => {
    const { seconds = 0, saves = 0 } = worth[index] ?? {};
    const counts =
      scan.part !== '' &&
      scan.resolves.some((child) => inPart.has(child)) &&
      (!strand || scan.strand === strand) &&
      saves > 0;
    return counts ? [{ ...scan, seconds, saves }] : [];
  });
  const scans = worthwhile.filter((scan) => !left.some((other) => sameScan(other, scan)));
  const wish = {
    minutes,
    ...(part !== undefined && { part }),
    ...(strand !== undefined && { strand }),
    scans: scans.map(({ target, part: where }) => ({ target, part: where })),
  };
  const asked = { ...wish, seconds: minutes * 60, absent, pins, done: out };
  const plan = planOf(kit, asked);
  const { stops } = plan;

  const toggle = (set: ReadonlySet<string>, key: string) => {
    const next = new Set(set);
    if (!next.delete(key)) next.add(key);
    return next;
  };
  const look = (child: string): ChairLook => {
    const index = stops.findIndex((stop) => stop.child === child);
    if (absent.has(child)) return { className: 'away', words: 'absent', pressed: tapping === 'absent' };
    if (out.has(child))
      return { className: '', below: 'left out', words: 'left out', pressed: tapping === 'out' };
    const pinned = pins.has(child) ? ', pinned' : '';
    const words = index >= 0 ? `stop ${index + 1}${pinned}` : `not in this round${pinned}`;
    return {
      className: index >= 0 ? 'lit' : '',
      below: [index >= 0 ? String(index + 1) : '', pins.has(child) ? 'pin' : ''].filter(Boolean).join(' · '),
      words,
      pressed: tapping === 'pin' && pins.has(child),
    };
  };

  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1.5,
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 400px' },
      }}
    >
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Choice name="Minutes for looking">
          <IconButton
            aria-label="One minute less"
            disabled={minutes <= MIN_MINUTES}
            onClick={() => setMinutes(minutes - 1)}
          >
            −
          </IconButton>
          <Typography
            component="output"
            sx={{ fontSize: '1.35rem', fontWeight: 700, minWidth: 86, textAlign: 'center' }}
          >
            {minutes} min
          </Typography>
          <IconButton
            aria-label="One minute more"
            disabled={minutes >= MAX_MINUTES}
            onClick={() => setMinutes(minutes + 1)}
          >
            +
          </IconButton>
          {MINUTES.map((some) => (
            <Toggle key={some} on={some === minutes} onClick={() => setMinutes(some)}>
              {some}
            </Toggle>
          ))}
          <Box sx={{ flex: 1 }} />
          <Button component={Link} to="term">
            The term ahead
          </Button>
        </Choice>
        <OneOf
          name="Whom"
          value={part ?? ALL}
          options={[[ALL, 'Whole class'], ...kit.parts.map((part) => [part.key, partWords(part)] as const)]}
          onChoose={(key) => setPart(key === ALL ? undefined : key)}
        />
        <OneOf
          name="What"
          value={strand ?? ALL}
          options={[[ALL, 'Everything'], ...kit.strands.map(({ key, name }) => [key, name] as const)]}
          onChoose={(key) => setStrand(key === ALL ? undefined : key)}
        />
        <Card aria-label="The rows" sx={{ p: 1.5, display: 'grid', gap: 1 }}>
          <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
            <Typography component="span" aria-hidden>
              A tap on a chair says
            </Typography>
            <OneOf
              name="A tap on a chair says"
              value={tapping}
              options={[
                ['absent', 'Absent today'],
                ['pin', 'Pin'],
                ['out', 'Leave out'],
              ]}
              onChoose={setTapping}
            />
          </Stack>
          <RowsLine
            kit={kit}
            walk={stops.map(({ child }) => child)}
            look={look}
            onTap={(child) => {
              if (tapping === 'absent') setAbsent(toggle(absent, child));
              else if (tapping === 'pin') setPins(toggle(pins, child));
              else setOut(toggle(out, child));
            }}
          />
        </Card>
        {worthwhile.length > 0 && (
          <Card aria-label="From afar first" sx={{ p: 1.5, display: 'grid', gap: 0.75 }}>
            <Typography variant="h3" component="h2">
              From afar first
            </Typography>
            {worthwhile.map((scan) => {
              const taken = scans.includes(scan);
              const where = partWords(kit.parts.find(({ key }) => key === scan.part));
              return (
                <Stack
                  direction="row"
                  spacing={1}
                  key={`${scan.target} ${scan.part}`}
                  sx={{ alignItems: 'center' }}
                >
                  <Toggle
                    on={taken}
                    onClick={() =>
                      setLeft(taken ? [...left, scan] : left.filter((other) => !sameScan(other, scan)))
                    }
                  >
                    {where}: {scan.name}
                  </Toggle>
                  <span>
                    {scan.seconds} s, spares {minutesWords(scan.saves)}
                  </span>
                </Stack>
              );
            })}
          </Card>
        )}
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Summary kit={kit} plan={plan} scanned={scans.reduce((sum, { seconds }) => sum + seconds, 0)} />
        <Button
          variant="contained"
          size="large"
          disabled={stops.length === 0 && scans.length === 0}
          sx={{ minHeight: 56, fontSize: '1.15rem' }}
          onClick={() => round.begin(wish, stops, absent)}
        >
          Walk the round
        </Button>
        <PlanList kit={kit} plan={plan} pins={pins} onPin={(key) => setPins(toggle(pins, key))} />
      </Box>
    </Box>
  );
}

function Summary({ kit, plan, scanned }: { kit: RoundKit; plan: RoundPlan; scanned: number }) {
  const looks = plan.stops.reduce((sum, stop) => sum + stop.checks.length, 0);
  const missed = plan.mustSeeMissed.length;
  return (
    <Box role="status">
      <Typography variant="h2">
        {count(plan.stops.length, 'child', 'children')}, {count(looks, 'look')},{' '}
        {minutesWords(plan.secondsUsed + scanned)}
      </Typography>
      <Typography>
        {missed === 0
          ? `Everybody not visited for ${kit.mustSeeAfterMeetings} meetings or more is in it.`
          : `${count(missed, 'child', 'children')} not visited for ${kit.mustSeeAfterMeetings} meetings or more ${missed === 1 ? 'does' : 'do'} not fit: give it more minutes.`}
      </Typography>
    </Box>
  );
}
