import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { ChildPage } from '../../api/client';
import { childQuery } from '../../api/queries';
import { DrawnFor } from '../../parts/drawings';
import { OneOf } from '../../parts/OneOf';
import { useKeys } from '../../parts/keys';
import { Failed, Loading } from '../../parts/Message';
import { ForThisChild } from './ForThisChild';
import { HistoryList } from './HistoryList';
import { Ladders } from './Ladders';
import { ChildHead, LastObservation, Now, Symptoms, useOpenChild } from './OpenChild';
import { OpenPain } from './PainNotes';

const Panel = styled('aside')(({ theme }) => ({
  display: 'flex',
  flexDirection: 'column',
  minHeight: 0,
  background: theme.vars.palette.background.paper,
  borderLeft: `1px solid ${theme.vars.palette.divider}`,
  [theme.breakpoints.down(1100)]: {
    borderLeft: 'none',
    borderTop: `2px solid ${theme.vars.palette.divider}`,
  },
  [theme.breakpoints.down('sm')]: { position: 'absolute', inset: 0, zIndex: 5, borderTop: 'none' },
}));

const VIEWS = { ladders: 'Ladders', history: 'History', own: 'This child' } as const;

/** A child beside the rows: its four strings, what is next, its ladders, its history. */
export function ChildPanel() {
  const { classId = '', childId = '' } = useParams();
  const navigate = useNavigate();
  const answer = useQuery(childQuery(classId, childId));
  const close = () => {
    void navigate(`/class/${classId}/room`);
    requestAnimationFrame(() => document.getElementById(`seat-${childId}`)?.focus());
  };
  useKeys({ Escape: close });
  return (
    <Panel aria-label={answer.data?.child.name ?? 'Child'}>
      {answer.data ? (
        <Open key={childId} classId={classId} answer={answer.data} onClose={close} />
      ) : answer.error ? (
        <Failed error={answer.error} onRetry={() => void answer.refetch()} />
      ) : (
        <Loading what="The child is being looked up" />
      )}
    </Panel>
  );
}

function Open({ classId, answer, onClose }: { classId: string; answer: ChildPage; onClose: () => void }) {
  const [view, setView] = useState<keyof typeof VIEWS>('ladders');
  const { page, observing, focus, symptoms, setSymptoms, director, undone } = useOpenChild(classId, answer);
  const toLadders = () => setView('ladders');
  return (
    <DrawnFor classId={classId} child={page.child.id} instrument={page.child.instrument}>
      <ChildHead page={page}>
        <Button
          aria-label="Close the child"
          aria-keyshortcuts="Escape"
          onClick={onClose}
          sx={{ minWidth: 44, alignSelf: 'flex-start' }}
        >
          Close
        </Button>
      </ChildHead>
      <Stack
        direction="row"
        spacing={0.75}
        sx={{
          px: 1.5,
          pb: 1,
          alignItems: 'center',
          justifyContent: 'space-between',
          '& .MuiFormControlLabel-root': { px: 1.25 },
        }}
      >
        <OneOf
          name="What to see"
          value={view}
          options={
            page.looksBack
              ? (Object.entries(VIEWS) as [keyof typeof VIEWS, string][])
              : [['ladders', VIEWS.ladders]]
          }
          onChoose={setView}
        />
        <Button
          component={Link}
          to={`/class/${classId}/child/${page.child.id}`}
          sx={{ px: 0.5, whiteSpace: 'nowrap' }}
        >
          Whole page
        </Button>
      </Stack>
      {/* Scrolls, so it takes the focus: the keyboard can reach all of it. */}
      {}
      <Box
        tabIndex={0}
        role="region"
        aria-label={VIEWS[view]}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', px: 0.5 }}
      >
        <OpenPain classId={classId} page={page} />
        {view === 'ladders' && (
          <>
            <Now
              classId={classId}
              page={page}
              focus={focus}
              onGo={toLadders}
              onSigns={() => setSymptoms(true)}
            />
            <Ladders
              classId={classId}
              page={page}
              observing={observing}
              focus={focus}
              director={director}
              onFindCause={() => setSymptoms(true)}
            />
          </>
        )}
        {view === 'history' && (
          <HistoryList classId={classId} page={page} undone={undone} observing={observing} />
        )}
        {view === 'own' && (
          <ForThisChild
            classId={classId}
            page={page}
            director={director}
            onGo={(checkpoint) => {
              toLadders();
              focus.goTo(checkpoint);
            }}
          />
        )}
      </Box>
      <LastObservation observing={observing} />
      {symptoms && (
        <Symptoms
          classId={classId}
          page={page}
          observing={observing}
          focus={focus}
          onClose={() => setSymptoms(false)}
          onGo={toLadders}
        />
      )}
    </DrawnFor>
  );
}
