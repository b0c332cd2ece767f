import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import type { ChildPage } from '../../api/client';
import { useLive } from '../../api/live';
import { childQuery, classesQuery } from '../../api/queries';
import { DrawnFor } from '../../parts/drawings';
import { Failed, Loading } from '../../parts/Message';
import { ForThisChild } from './ForThisChild';
import { HistoryLine } from './HistoryLine';
import { HistoryList } from './HistoryList';
import { Ladders } from './Ladders';
import { ChildHead, LastObservation, Now, Symptoms, useOpenChild } from './OpenChild';
import { OpenPain } from './PainNotes';

const Page = styled('div')(({ theme }) => ({
  flex: 1,
  minHeight: 0,
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 10fr) minmax(0, 12fr) minmax(0, 10fr)',
  gap: 1,
  background: theme.vars.palette.divider,
  '& > *': {
    background: theme.vars.palette.background.paper,
    overflow: 'auto',
    padding: theme.spacing(1, 0.5),
  },
  // On an upright tablet the history stands below, on a phone all of it in one column.
  [theme.breakpoints.down(1100)]: {
    gridTemplateColumns: 'minmax(0, 10fr) minmax(0, 12fr)',
    gridTemplateRows: 'minmax(0, 3fr) minmax(0, 2fr)',
    '& > :last-child': { gridColumn: '1 / -1' },
  },
  [theme.breakpoints.down('sm')]: {
    display: 'block',
    overflow: 'auto',
    '& > *': { overflow: 'visible' },
  },
}));

/** A child's own page: everything about it side by side. */
export function ChildPage() {
  const { classId = '', childId = '' } = useParams();
  const answer = useQuery(childQuery(classId, childId));
  useLive(classId);
  if (answer.data) return <Whole key={childId} classId={classId} answer={answer.data} />;
  if (answer.error) return <Failed error={answer.error} onRetry={() => void answer.refetch()} />;
  return <Loading what="The child is being looked up" />;
}

function Whole({ classId, answer }: { classId: string; answer: ChildPage }) {
  const { page, observing, focus, symptoms, setSymptoms, director, undone } = useOpenChild(classId, answer);
  const classes = useQuery(classesQuery);
  const here = classes.data?.find(({ id }) => id === classId);
  return (
    <DrawnFor classId={classId} child={page.child.id} instrument={page.child.instrument}>
      <Stack sx={{ height: '100%', minHeight: 0 }}>
        <ChildHead
          page={page}
          above={
            <Typography component="h1" sx={{ color: 'text.secondary' }}>
              {here?.name ?? 'A child'}
            </Typography>
          }
        >
          <Button component={Link} to={`/class/${classId}/room/${page.child.id}`} variant="outlined">
            Back to the rows
          </Button>
        </ChildHead>
        <Page>
          <Box tabIndex={0} role="region" aria-label="Now">
            <OpenPain classId={classId} page={page} />
            <Now
              classId={classId}
              page={page}
              focus={focus}
              onGo={() => undefined}
              onSigns={() => setSymptoms(true)}
            />
            <ForThisChild classId={classId} page={page} director={director} onGo={focus.goTo} />
          </Box>
          <Box tabIndex={0} role="region" aria-label="Ladders">
            <Ladders
              classId={classId}
              page={page}
              observing={observing}
              focus={focus}
              director={director}
              onFindCause={() => setSymptoms(true)}
            />
          </Box>
          {page.looksBack && (
            <Box tabIndex={0} role="region" aria-label="History">
              <Typography variant="h3" sx={{ px: 1, pb: 0.5 }}>
                History
              </Typography>
              <Box sx={{ px: 1, pb: 1 }}>
                <HistoryLine observations={page.history.observations} />
              </Box>
              <HistoryList classId={classId} page={page} undone={undone} observing={observing} />
            </Box>
          )}
        </Page>
        <LastObservation observing={observing} />
        {symptoms && (
          <Symptoms
            classId={classId}
            page={page}
            observing={observing}
            focus={focus}
            onClose={() => setSymptoms(false)}
            onGo={() => undefined}
          />
        )}
      </Stack>
    </DrawnFor>
  );
}
