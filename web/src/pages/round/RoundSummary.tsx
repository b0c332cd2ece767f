import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, type ReactNode } from 'react';
import type { RoundKit } from '../../api/client';
import { $api } from '../../api/queries';
import { Card, ClassName, PageContent } from '../../parts/page';
import { LEVELS, SECTIONS } from '../../words/looks';
import { count } from '../../words/text';
import type { Round } from './useRound';
import { childOf, minutesWords, planOf, present, type RoundState } from './walk';

interface Props {
  kit: RoundKit;
  round: Round;
  state: RoundState;
  onAgain: () => void;
}

/** What a round came to: seen, not reached and why, what slipped, what changed, what next time brings. */
export function RoundSummary({ kit, round, state, onAgain }: Props) {
  const seconds = (Date.parse(state.endedAt ?? state.startedAt) - Date.parse(state.startedAt)) / 1000;
  const unreached = state.stops.filter(({ child }) => !state.visited.has(child));
  const inPart = new Set(present(kit, state.part, new Set()));
  const planned = new Set(state.stops.map(({ child }) => child));
  const missed = kit.children.filter(
    (child) =>
      inPart.has(child.id) &&
      !planned.has(child.id) &&
      !state.absent.has(child.id) &&
      child.meetingsUnseen >= kit.mustSeeAfterMeetings,
  );
  const why = (child: string) =>
    state.absent.has(child) ? 'Absent' : state.skipped.has(child) ? 'Passed over' : 'Not reached in time';
  const who = [
    ...unreached.map(({ child }) => [why(child), childOf(kit, child)?.name ?? ''] as const),
    ...missed.map(({ name }) => ['Waiting long, no room in the minutes', name] as const),
  ];
  const reasons = new Map<string, string[]>();
  for (const [reason, name] of who) reasons.set(reason, [...(reasons.get(reason) ?? []), name]);
  const slips = slipsBySection(kit, round);
  const changes = changed(kit, round, state);
  return (
    <PageContent name="Round looked back on" bar={<ClassName name={kit.className} path="round" />}>
      <Box sx={{ maxWidth: 1100, display: 'grid', gap: 2 }}>
        <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <Box sx={{ flex: 1, minWidth: 260 }}>
            <Typography variant="h2">
              {count(state.visited.size, 'child', 'children')} seen in {minutesWords(seconds)}
            </Typography>
            <Typography>
              {count(round.observations.length, 'observation')}
              {state.scanned.length > 0 && `, ${count(state.scanned.length, 'look')} from afar`}
              {round.waiting > 0 && `, ${round.waiting} still to be sent`}
            </Typography>
          </Box>
          <Button variant="contained" size="large" onClick={onAgain}>
            Another round
          </Button>
        </Stack>
        <Box
          sx={{
            display: 'grid',
            gap: 2,
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(2, minmax(0, 1fr))' },
          }}
        >
          <Part title="Not reached" empty="Everybody in the plan was seen.">
            {[...reasons].map(([reason, names]) => (
              <li key={reason}>
                {reason}: <strong>{names.join(', ')}</strong>
              </li>
            ))}
          </Part>
          <Part title="What changed" empty="Nothing moved up or down.">
            {changes.map(({ key, name, what, from, to }) => (
              <li key={key}>
                <strong>{name}</strong> {what}: {from} → {to}
              </li>
            ))}
          </Part>
          <Part title="Slips by section" empty="No slip was ticked.">
            {slips.map(({ key, name, section, who }) => (
              <li key={key}>
                <strong>{section}</strong> {name}: {who.join(', ')}
              </li>
            ))}
          </Part>
          <Next classId={kit.classId} minutes={state.minutes} />
        </Box>
      </Box>
    </PageContent>
  );
}

function Part({ title, empty, children }: { title: string; empty: string; children: ReactNode[] }) {
  const lines = children.flat();
  return (
    <Card aria-label={title}>
      <Typography variant="h3" component="h2">
        {title}
      </Typography>
      {lines.length === 0 ? (
        <Typography sx={{ mt: 0.5 }}>{empty}</Typography>
      ) : (
        <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
          {lines}
        </Box>
      )}
    </Card>
  );
}

/** The plan of the next meeting with the same minutes, as if nothing were recorded until then. */
function Next({ classId, minutes }: { classId: string; minutes: number }) {
  const next = $api.useQuery('get', '/api/classes/{class}/round', {
    params: { path: { class: classId }, query: { ahead: 1 } },
  });
  const kit = next.data;
  const stops = useMemo(
    () => (kit ? planOf(kit, { seconds: minutes * 60, absent: new Set() }).stops : []),
    [kit, minutes],
  );
  return (
    <Part title="Next time" empty={kit ? 'Nothing is open or due.' : 'Shown once the server answers.'}>
      {kit
        ? stops.map(({ child, checks }) => (
            <li key={child}>
              <strong>{childOf(kit, child)?.name}</strong>{' '}
              {checks
                .map((target) => childOf(kit, child)?.checks.find((one) => one.target === target)?.name)
                .join(', ')}
            </li>
          ))
        : []}
    </Part>
  );
}

function slipsBySection(kit: RoundKit, round: Round) {
  const found = new Map<string, { key: string; name: string; section: string; who: string[] }>();
  for (const { child: id, slips } of round.observations) {
    const child = childOf(kit, id);
    for (const slip of slips) {
      const section = child ? SECTIONS[child.instrument] : '';
      const name = kit.names[slip] ?? slip;
      const key = `${section} ${slip}`;
      const entry = found.get(key) ?? { key, name, section, who: [] };
      if (child && !entry.who.includes(child.name)) entry.who.push(child.name);
      found.set(key, entry);
    }
  }
  return [...found.values()].sort((a, b) => (a.section < b.section ? -1 : 1));
}

/** Where a child stands at another level than before; what was seen for the first time begins at nothing. */
function changed(kit: RoundKit, round: Round, state: RoundState) {
  return round.observations.flatMap(({ id, child: childId, target, level }) => {
    const child = childOf(kit, childId);
    const before = state.visited.get(childId)?.before[target];
    if (!child || level === undefined || before === level || target.startsWith('tape.')) return [];
    const what = kit.names[target] ?? target;
    const from = before === undefined ? 'new' : (LEVELS[before] ?? '');
    return [{ key: id, name: child.name, what, from, to: LEVELS[level] ?? '' }];
  });
}
