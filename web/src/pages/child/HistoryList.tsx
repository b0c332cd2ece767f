import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useInfiniteQuery } from '@tanstack/react-query';
import { api, unwrap, type ChildPage, type ObservationView } from '../../api/client';
import { Failed } from '../../parts/Message';
import { weekdayWords } from '../../words/dates';
import { SAYS } from '../../words/looks';
import { observationWords, type Observing } from './useObserving';

function words(observation: ObservationView, nameOf: (checkpoint: string) => string): string {
  const except = observation.holdsExcept?.map(nameOf) ?? [];
  const still = `${observation.targetName}: still there${except.length > 0 ? ` but ${except.join(', ')}` : ''}`;
  const seen =
    observation.level == null
      ? still
      : observationWords(observation.target, observation.targetName, observation.level);
  const says = observation.says ? [`child says: ${SAYS[observation.says].toLowerCase()}`] : [];
  return [seen, ...observation.slips.map((slip) => slip.toLowerCase()), ...says].join(', ');
}

interface Props {
  classId: string;
  page: ChildPage;
  /** Observations taken back on this page whose undo is still on its override. */
  undone: ReadonlySet<string>;
  observing: Observing;
}

/** Everything that was seen, newest first; what was taken back stays to be read. */
export function HistoryList({ classId, page, undone, observing }: Props) {
  const { child, history } = page;
  const last = history.observations.at(-1);
  const checkpoints = page.ladders.flatMap(({ stages }) => stages).flatMap((stage) => stage.checkpoints);
  const nameOf = (id: string) => checkpoints.find((checkpoint) => checkpoint.id === id)?.name ?? id;
  const older = useInfiniteQuery({
    queryKey: ['older', classId, child.id, last?.id],
    enabled: false,
    initialPageParam: last,
    queryFn: ({ pageParam }) =>
      unwrap(
        api.GET('/api/classes/{class}/children/{child}/observations', {
          params: {
            path: { class: classId, child: child.id },
            query: pageParam ? { before: pageParam.observedAt, beforeId: pageParam.id } : {},
          },
        }),
      ),
    getNextPageParam: (part) => (part.older ? part.observations.at(-1) : undefined),
  });
  const observations = [
    ...history.observations,
    ...(older.data?.pages.flatMap((part) => part.observations) ?? []),
  ];
  const void_ = new Set([...undone, ...observations.map((observation) => observation.retracts)]);
  const seen = observations.filter((observation) => !observation.retracts);
  const more = older.data ? older.hasNextPage : history.older;

  if (seen.length === 0) {
    return (
      <Typography sx={{ p: 2 }}>Nothing seen yet. The first observation you make stands here.</Typography>
    );
  }
  return (
    <>
      <Box component="ol" aria-label="History" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {seen.map((observation) => {
          const back = void_.has(observation.id);
          return (
            <Stack
              direction="row"
              spacing={1}
              component="li"
              key={observation.id}
              sx={{ alignItems: 'center', borderTop: 1, borderColor: 'divider', px: 1, py: 0.75 }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box component={back ? 's' : 'span'}>{words(observation, nameOf)}</Box>
                {observation.note && <Box sx={{ fontStyle: 'italic' }}>{observation.note}</Box>}
                <Box sx={{ color: 'text.secondary', fontSize: '0.9rem' }}>
                  {weekdayWords(observation.observedAt)}, {observation.observer}
                  {back && ', taken back'}
                </Box>
              </Box>
              {!back && (
                <Button
                  aria-label={`Take back ${words(observation, nameOf)}`}
                  onClick={() => observing.takeBack(observation)}
                >
                  Take back
                </Button>
              )}
            </Stack>
          );
        })}
      </Box>
      {more && (
        <Button disabled={older.isFetching} onClick={() => void older.fetchNextPage()}>
          Older observations
        </Button>
      )}
      {older.error && <Failed error={older.error} onRetry={() => void older.fetchNextPage()} />}
    </>
  );
}
