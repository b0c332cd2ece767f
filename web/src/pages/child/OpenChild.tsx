import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import type { ChildPage } from '../../api/client';
import { overlayPage } from '../../offline/overlay';
import { useOutbox } from '../../offline/useOutbox';
import { FourStrings } from '../../parts/FourStrings';
import { useKeys } from '../../parts/keys';
import { visitWords } from '../../words';
import { NextThings } from './NextThings';
import { SignsDialog } from './SignsDialog';
import { useFocus, type Focus } from './useFocus';
import { useMarking, type Marking } from './useMarking';

/** Everything that a child's panel and its page share: what is shown, marking, where one looks, the signs. */
export function useOpenChild(classId: string, reading: ChildPage) {
  const { pending } = useOutbox();
  const page = overlayPage(reading, pending);
  const marking = useMarking(classId, page);
  const focus = useFocus(page);
  const [signs, setSigns] = useState(false);
  useKeys({ u: marking.undoLast });
  return {
    page,
    marking,
    focus,
    signs,
    setSigns,
    director: page.role === 'director',
    undone: new Set(pending.flatMap(({ item }) => (item.retracts ? [item.retracts] : []))),
  };
}

interface HeadProps {
  page: ChildPage;
  /** What stands above the name: where the page stands by itself, its class. */
  above?: ReactNode;
  /** What can be done with the whole. */
  children: ReactNode;
}

/** Who it is, with the four strings. */
export function ChildHead({ page, above, children }: HeadProps) {
  const { child } = page;
  const seat = child.seat ? `row ${child.seat.row}, seat ${child.seat.seat}` : 'no seat';
  return (
    <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', p: 1.5, pb: 1 }}>
      <FourStrings strings={child.strings} size="card" />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        {above}
        <Typography variant="h2">{child.name}</Typography>
        <Typography sx={{ color: 'text.secondary' }}>
          {child.instrument}, {seat}
          <br />
          {visitWords(child)}
        </Typography>
      </Box>
      {children}
    </Box>
  );
}

interface NowProps {
  page: ChildPage;
  focus: Focus;
  /** Shows the ladders, where somebody was sent. */
  onGo: () => void;
  onSigns: () => void;
}

/** What is to be done now: the next things, and the way from a sign to its cause. */
export function Now({ page, focus, onGo, onSigns }: NowProps) {
  const go = (target: string) => {
    onGo();
    focus.goTo(target);
  };
  const tapes = page.ladders.find(({ strand }) => strand === 'tape')?.stages ?? [];
  return (
    <>
      <NextThings
        things={page.things}
        onGo={go}
        onTapes={() => go((tapes.find(({ state }) => state === 'open') ?? tapes[0])?.id ?? '')}
      />
      <Box sx={{ px: 1, py: 1 }}>
        <Button fullWidth variant="outlined" aria-haspopup="dialog" onClick={onSigns}>
          What do you hear or see?
        </Button>
      </Box>
    </>
  );
}

interface SignsProps {
  classId: string;
  page: ChildPage;
  marking: Marking;
  focus: Focus;
  onClose: () => void;
  onGo: () => void;
}

/** The signs of this child; going to a checkpoint closes them. */
export function Signs({ classId, page, marking, focus, onClose, onGo }: SignsProps) {
  return (
    <SignsDialog
      classId={classId}
      child={page.child}
      marking={marking}
      onClose={onClose}
      onGo={(checkpoint) => {
        onClose();
        onGo();
        focus.goTo(checkpoint);
      }}
    />
  );
}

/** The last mark with its undo. */
export function LastMark({ marking }: { marking: Marking }) {
  return (
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
  );
}
