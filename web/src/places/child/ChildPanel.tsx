import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { ChildPage } from '../../api/client';
import { childQuery } from '../../api/queries';
import { overlayPage } from '../../offline/overlay';
import { useOutbox } from '../../offline/useOutbox';
import { Chip } from '../../parts/Chip';
import { FourStrings } from '../../parts/FourStrings';
import { useKeys } from '../../parts/keys';
import { Failed, Loading } from '../../parts/Message';
import { PAIN_CAUTION, visitWords } from '../../words';
import { HistoryList } from './HistoryList';
import { Ladders } from './Ladders';
import { useMarking } from './useMarking';

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

/** A child beside the rows: its four strings, its ladders, its history. */
export function ChildPanel() {
  const { classId = '', childId = '' } = useParams();
  const navigate = useNavigate();
  const reading = useQuery(childQuery(classId, childId));
  const close = () => {
    void navigate(`/class/${classId}/room`);
    requestAnimationFrame(() => document.getElementById(`seat-${childId}`)?.focus());
  };
  useKeys({ Escape: close });
  return (
    <Panel aria-label={reading.data?.child.name ?? 'Child'}>
      {reading.data ? (
        <Open key={childId} classId={classId} reading={reading.data} onClose={close} />
      ) : reading.error ? (
        <Failed error={reading.error} onRetry={() => void reading.refetch()} />
      ) : (
        <Loading what="The child is being looked up" />
      )}
    </Panel>
  );
}

function Open({ classId, reading, onClose }: { classId: string; reading: ChildPage; onClose: () => void }) {
  const [view, setView] = useState<'ladders' | 'history'>('ladders');
  const { pending } = useOutbox();
  const page = overlayPage(reading, pending);
  const marking = useMarking(classId, page);
  useKeys({ u: marking.undoLast });
  const { child } = page;
  const undone = new Set(pending.flatMap(({ mark }) => (mark.retracts ? [mark.retracts] : [])));
  const seat = child.seat ? `row ${child.seat.row}, seat ${child.seat.seat}` : 'no seat';
  const hurts = child.strings.some((string) => string.flags.includes('pain'));
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 1.5, pb: 1 }}>
        <FourStrings strings={child.strings} size="card" />
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h2">{child.name}</Typography>
          <Typography sx={{ color: 'text.secondary' }}>
            {child.instrument}, {seat}
            <br />
            {visitWords(child)}
          </Typography>
        </Box>
        <Button
          aria-label="Close the child"
          aria-keyshortcuts="Escape"
          onClick={onClose}
          sx={{ minWidth: 44 }}
        >
          Close
        </Button>
      </Box>
      <Box role="group" aria-label="What to see" sx={{ display: 'flex', gap: 0.75, px: 1.5, pb: 1 }}>
        <Chip aria-pressed={view === 'ladders'} onClick={() => setView('ladders')}>
          Ladders
        </Chip>
        <Chip aria-pressed={view === 'history'} onClick={() => setView('history')}>
          History
        </Chip>
      </Box>
      {/* Scrolls, so it takes the focus: the keyboard can reach all of it. */}
      {}
      <Box
        tabIndex={0}
        role="region"
        aria-label={view === 'ladders' ? 'Ladders' : 'History'}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', px: 0.5 }}
      >
        {hurts && (
          <Alert
            severity="error"
            icon={false}
            sx={{
              mx: 1,
              mb: 1,
              bgcolor: (theme) => theme.vars.palette.own.care,
              color: 'text.primary',
              fontSize: '1rem',
            }}
          >
            {PAIN_CAUTION}
          </Alert>
        )}
        {view === 'ladders' ? (
          <Ladders ladders={page.ladders} tapes={page.tapes} marking={marking} />
        ) : (
          <HistoryList classId={classId} page={page} undone={undone} marking={marking} />
        )}
      </Box>
      <Box
        role="status"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          minHeight: 54,
          px: 1.5,
          borderTop: 1,
          borderColor: 'divider',
        }}
      >
        {marking.last ? (
          <>
            <Box sx={{ flex: 1, minWidth: 0, lineHeight: 1.25 }}>{marking.last.label}</Box>
            <Button variant="outlined" aria-keyshortcuts="u" onClick={marking.undoLast}>
              Undo&ensp;U
            </Button>
          </>
        ) : (
          <Box sx={{ color: 'text.secondary' }}>One tap marks; it can be undone.</Box>
        )}
      </Box>
    </>
  );
}
