import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useInfiniteQuery } from '@tanstack/react-query';
import { api, unwrap, type ChildPage, type MarkView } from '../../api/client';
import { Failed } from '../../parts/Message';
import { weekdayWords } from '../../words';
import { markWords, type Marking } from './useMarking';

function words(mark: MarkView, nameOf: (checkpoint: string) => string): string {
  const except = mark.holdsExcept?.map(nameOf) ?? [];
  const still = `${mark.targetName}: still there${except.length > 0 ? ` but ${except.join(', ')}` : ''}`;
  const seen = mark.level == null ? still : markWords(mark.target, mark.targetName, mark.level);
  const says = mark.says ? [`child says: ${mark.says}`] : [];
  return [seen, ...mark.slips.map((slip) => slip.toLowerCase()), ...says].join(', ');
}

interface Props {
  classId: string;
  page: ChildPage;
  /** Marks taken back on this page whose undo is still on its way. */
  undone: ReadonlySet<string>;
  marking: Marking;
}

/** Everything that was seen, newest first; what was taken back stays to be read. */
export function HistoryList({ classId, page, undone, marking }: Props) {
  const { child, history } = page;
  const last = history.marks.at(-1);
  const checkpoints = page.ladders.flatMap(({ stages }) => stages).flatMap((stage) => stage.checkpoints);
  const nameOf = (id: string) => checkpoints.find((checkpoint) => checkpoint.id === id)?.name ?? id;
  const older = useInfiniteQuery({
    queryKey: ['older', classId, child.id, last?.id],
    enabled: false,
    initialPageParam: last,
    queryFn: ({ pageParam }) =>
      unwrap(
        api.GET('/api/classes/{class}/children/{child}/marks', {
          params: {
            path: { class: classId, child: child.id },
            query: pageParam ? { before: pageParam.observedAt, beforeId: pageParam.id } : {},
          },
        }),
      ),
    getNextPageParam: (part) => (part.older ? part.marks.at(-1) : undefined),
  });
  const marks = [...history.marks, ...(older.data?.pages.flatMap((part) => part.marks) ?? [])];
  const void_ = new Set([...undone, ...marks.map((mark) => mark.retracts)]);
  const seen = marks.filter((mark) => !mark.retracts);
  const more = older.data ? older.hasNextPage : history.older;

  if (seen.length === 0) {
    return <Typography sx={{ p: 2 }}>Nothing seen yet. The first mark you make stands here.</Typography>;
  }
  return (
    <>
      <Box component="ol" aria-label="History" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {seen.map((mark) => {
          const back = void_.has(mark.id);
          return (
            <Box
              component="li"
              key={mark.id}
              sx={{
                display: 'flex',
                gap: 1,
                alignItems: 'center',
                borderTop: 1,
                borderColor: 'divider',
                px: 1,
                py: 0.75,
              }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box component={back ? 's' : 'span'}>{words(mark, nameOf)}</Box>
                {mark.note && <Box sx={{ fontStyle: 'italic' }}>{mark.note}</Box>}
                <Box sx={{ color: 'text.secondary', fontSize: '0.9rem' }}>
                  {weekdayWords(mark.observedAt)}, {mark.observer}
                  {back && ', taken back'}
                </Box>
              </Box>
              {!back && (
                <Button
                  aria-label={`Take back ${words(mark, nameOf)}`}
                  onClick={() => marking.takeBack(mark)}
                >
                  Take back
                </Button>
              )}
            </Box>
          );
        })}
      </Box>
      {more && (
        <Button disabled={older.isFetching} onClick={() => void older.fetchNextPage()}>
          Older marks
        </Button>
      )}
      {older.error && <Failed error={older.error} onRetry={() => void older.fetchNextPage()} />}
    </>
  );
}
