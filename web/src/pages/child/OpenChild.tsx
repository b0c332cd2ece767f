import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import type { ChildPage } from '../../api/client';
import { usePageNow } from '../../offline/overlay';
import { useOutbox } from '../../offline/useOutbox';
import { FileButton } from '../../parts/page';
import { FourStrings } from '../../parts/FourStrings';
import { useKeys } from '../../parts/keys';
import { visitWords } from '../../words/room';
import { NextItems } from './NextItems';
import { SymptomsDialog } from './SymptomsDialog';
import { useFocus, type Focus } from './useFocus';
import { useObserving, type Observing } from './useObserving';

/** Everything that a child's panel and its page share: what is shown, observing, where one looks, the symptoms. */
export function useOpenChild(classId: string, answer: ChildPage) {
  const { pending } = useOutbox();
  const page = usePageNow(classId, answer);
  const observing = useObserving(classId, page);
  const focus = useFocus(page);
  const [symptoms, setSymptoms] = useState(false);
  useKeys({ u: observing.undoLast });
  return {
    page,
    observing,
    focus,
    symptoms,
    setSymptoms,
    director: page.mayChange,
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
    <Stack direction="row" spacing={2} sx={{ alignItems: 'center', p: 1.5, pb: 1 }}>
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
    </Stack>
  );
}

interface NowProps {
  classId: string;
  page: ChildPage;
  focus: Focus;
  /** Shows the ladders, where somebody was sent. */
  onGo: () => void;
  onSigns: () => void;
}

/** What is to be done now: the next next, and the way from a symptom to its cause. */
export function Now({ classId, page, focus, onGo, onSigns }: NowProps) {
  const go = (target: string) => {
    onGo();
    focus.goTo(target);
  };
  const tapes = page.ladders.find(({ strand }) => strand === 'tape')?.stages ?? [];
  return (
    <>
      <NextItems
        next={page.next}
        onGo={go}
        onTapes={() => go((tapes.find(({ state }) => state === 'open') ?? tapes[0])?.id ?? '')}
      />
      <Stack direction="row" spacing={1} sx={{ px: 1, py: 1 }}>
        <Button
          variant="outlined"
          aria-haspopup="dialog"
          onClick={onSigns}
          sx={{ flex: 1, whiteSpace: 'nowrap' }}
        >
          What do you hear or see?
        </Button>
        {page.looksBack && (
          <FileButton href={`/api/classes/${classId}/children/${page.child.id}/card.pdf`}>
            Stand card
          </FileButton>
        )}
      </Stack>
    </>
  );
}

interface SignsProps {
  classId: string;
  page: ChildPage;
  observing: Observing;
  focus: Focus;
  onClose: () => void;
  onGo: () => void;
}

/** The symptoms of this child; going to a checkpoint closes them. */
export function Symptoms({ classId, page, observing, focus, onClose, onGo }: SignsProps) {
  return (
    <SymptomsDialog
      classId={classId}
      child={page.child}
      observing={observing}
      onClose={onClose}
      onGo={(checkpoint) => {
        onClose();
        onGo();
        focus.goTo(checkpoint);
      }}
    />
  );
}

/** The last observation with its undo. */
export function LastObservation({ observing }: { observing: Observing }) {
  return (
    <Stack
      direction="row"
      spacing={1}
      role="status"
      sx={{
        alignItems: 'center',

        minHeight: 54,
        px: 1.5,
        borderTop: 1,
        borderColor: 'divider',
      }}
    >
      {observing.last ? (
        <>
          <Box sx={{ flex: 1, minWidth: 0, lineHeight: 1.25 }}>{observing.last.label}</Box>
          <Button variant="outlined" aria-keyshortcuts="u" onClick={observing.undoLast}>
            Undo&ensp;U
          </Button>
        </>
      ) : (
        <Box sx={{ color: 'text.secondary' }}>One tap records it; it can be undone.</Box>
      )}
    </Stack>
  );
}
