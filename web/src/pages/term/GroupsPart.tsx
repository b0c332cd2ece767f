import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Card, Read } from '../../parts/page';
import { useAction } from '../../parts/useAction';
import { useDirector } from '../../parts/useDirector';
import { useIdFor } from '../../parts/useIdFor';
import { dayWords } from '../../words/dates';
import { LEVELS } from '../../words/looks';
import { count, listed } from '../../words/text';
import { groupWords, VERDICTS } from '../../words/term';
import { TermRead } from './TermRead';

type Overview = Schemas['ClassOverview'];
type Proposal = Schemas['SmallGroup'];
type Kept = Schemas['KeptGroup'];

const GRID = {
  display: 'grid',
  gap: 1.5,
  gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(2, minmax(0, 1fr))' },
} as const;

/** Where the class waits, the small groups that would help most, and what became of those that were kept. */
export function GroupsPart() {
  const { classId = '' } = useParams();
  const overview = $api.useQuery('get', '/api/classes/{class}/overview', ofClass(classId));
  return (
    <TermRead name="Where it waits">
      {(term) => (
        <Read query={overview} what="The class is being read">
          {(read) => (
            <Stack spacing={3} sx={{ maxWidth: 1180 }}>
              <Waiting overview={read} />
              <Proposals classId={classId} proposals={read.groups} />
              <KeptGroups classId={classId} groups={term.groups} />
            </Stack>
          )}
        </Read>
      )}
    </TermRead>
  );
}

function Waiting({ overview }: { overview: Overview }) {
  return (
    <Box component="section" aria-label="Where the class waits">
      <Typography variant="h2" sx={{ pb: 0.5 }}>
        Where the class waits
      </Typography>
      {overview.bottlenecks.length === 0 && (
        <Typography>Nobody waits: every open stage is passed.</Typography>
      )}
      <Box component="ul" sx={{ m: 0, pl: 2.5, display: 'grid', gap: 0.5 }}>
        {overview.bottlenecks.map(({ checkpoint, name, stageName, below, unseen }) => (
          <li key={checkpoint}>
            <strong>{name}</strong> ({stageName}): {below.length + unseen.length} of {overview.children} wait
            {unseen.length > 0 && `, ${unseen.length} of them not looked at yet`}
          </li>
        ))}
      </Box>
    </Box>
  );
}

function Proposals({ classId, proposals }: { classId: string; proposals: Proposal[] }) {
  const { run, busy, error } = useAction(classId);
  const { idFor } = useIdFor();
  const mayChange = useDirector(classId);
  const keep = ({ checkpoint, slip, children }: Proposal) => {
    const group = { checkpoint, ...(slip && { slip }), children: children.map(({ id }) => id) };
    const body = { ...group, id: idFor(group) };
    return run(() => unwrap(api.POST('/api/classes/{class}/groups', { ...ofClass(classId), body })));
  };
  return (
    <Box component="section" aria-label="Groups that would help">
      <Typography variant="h2">Small groups that would help most</Typography>
      <Typography color="textSecondary" sx={{ pb: 1 }}>
        {proposals.length === 0
          ? 'No two children who are in no group share an open cause.'
          : 'Children who share an open cause. Keep a group, work together for some minutes a meeting, and see here whether it helped.'}
      </Typography>
      {error && <Alert severity="error">{error}</Alert>}
      <Box sx={GRID}>
        {proposals.map((proposal) => {
          const names = listed(proposal.children.map(({ name }) => name));
          return (
            <Card
              key={proposal.children.map(({ id }) => id).join()}
              aria-label={`${proposal.name}: ${names}`}
              sx={{ p: 1.5, display: 'grid', gap: 0.75, alignContent: 'start' }}
            >
              <Typography variant="h3">{proposal.name}</Typography>
              <Typography>{proposal.help}</Typography>
              <Typography sx={{ fontWeight: 600 }}>{names}</Typography>
              {mayChange && (
                <Button
                  variant="outlined"
                  sx={{ justifySelf: 'start' }}
                  disabled={busy}
                  onClick={() => void keep(proposal)}
                >
                  Keep this group
                </Button>
              )}
            </Card>
          );
        })}
      </Box>
    </Box>
  );
}

function KeptGroups({ classId, groups }: { classId: string; groups: Kept[] }) {
  const { run, busy, error } = useAction(classId);
  const mayChange = useDirector(classId);
  const end = ({ id }: Kept) =>
    run(() => unwrap(api.POST('/api/classes/{class}/groups/{group}/end', ofClass(classId, { group: id }))));
  return (
    <Box component="section" aria-label="Groups that were kept">
      <Typography variant="h2">Did it help?</Typography>
      <Typography color="textSecondary" sx={{ pb: 1 }}>
        {groups.length === 0
          ? 'No group was kept yet.'
          : 'How its children stood where they worked together, before and after, beside the others who stood there too. Few children say little: it is a sign, no proof.'}
      </Typography>
      {error && <Alert severity="error">{error}</Alert>}
      <Box sx={GRID}>
        {groups.map((group) => (
          <Card
            key={group.id}
            // Two may have begun on one day at the same place.
            aria-label={`${group.name}, since ${dayWords(group.began)}: ${listed(group.children.map(({ child }) => child.name))}`}
            sx={{ p: 1.5, display: 'grid', gap: 0.75, alignContent: 'start' }}
          >
            <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
              <Typography variant="h3" sx={{ flex: 1 }}>
                {group.name}
              </Typography>
              <Typography sx={{ fontWeight: 600 }}>{VERDICTS[group.verdict]}</Typography>
            </Stack>
            <Typography color="textSecondary">
              {count(group.children.length, 'child', 'children')},{' '}
              {group.ended
                ? `${dayWords(group.began)} to ${dayWords(group.ended)}`
                : `since ${dayWords(group.began)}`}
            </Typography>
            <Typography>{groupWords(group)}</Typography>
            <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
              {group.children.map(({ child, before, after, looked }) => (
                <li key={child.id}>
                  {child.name}: {levelName(before)}
                  {looked ? `, then ${levelName(after)}` : ', not looked at since'}
                </li>
              ))}
            </Box>
            {mayChange && !group.ended && (
              <Button
                variant="outlined"
                sx={{ justifySelf: 'start' }}
                disabled={busy}
                onClick={() => void end(group)}
              >
                End the group
              </Button>
            )}
          </Card>
        ))}
      </Box>
    </Box>
  );
}

function levelName(level: number | undefined): string {
  return level === undefined ? 'not looked at' : (LEVELS[level] ?? '');
}
