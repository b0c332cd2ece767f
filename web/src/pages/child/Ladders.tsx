import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Fragment, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useEventCallback } from 'usehooks-ts';
import type { Checkpoint, ChildPage } from '../../api/client';
import { useKeys } from '../../parts/keys';
import { LEVELS } from '../../words/looks';
import { TAPE_STATES, troubleWords } from '../../words/markers';
import { AccommodationDialog } from './AccommodationDialog';
import { CheckpointRow } from './CheckpointRow';
import { StageBlock, type StageLook } from './StageBlock';
import { StageChips } from './StageChips';
import type { Focus } from './useFocus';
import type { Observing } from './useObserving';

interface Props {
  classId: string;
  page: ChildPage;
  observing: Observing;
  focus: Focus;
  director: boolean;
  onFindCause: () => void;
}

/** The four ladders: open stages with their checkpoints, the others in a line that opens. */
export function Ladders({ classId, page, observing, focus, director, onFindCause }: Props) {
  const { ladders, tapes, child } = page;
  const note = useRef<HTMLTextAreaElement>(null);
  const slips = useRef<HTMLDivElement>(null);
  const [accommodating, setAccommodating] = useState<Checkpoint>();
  const { selected, step, choose, isOpen } = focus;
  const press = (level: number) => {
    // Tapes have two keys: 0 and 3, not there and there.
    if (!selected?.applies || (selected.id.startsWith('tape.') && level !== 0 && level !== 3)) return;
    observing.observation(selected, level);
  };
  useKeys({
    '[': () => step(-1),
    ']': () => step(1),
    ...Object.fromEntries(LEVELS.map((_, level) => [String(level), () => press(level)])),
    n: () => note.current?.focus(),
    s: () => slips.current?.querySelector('button')?.focus(),
  });
  // The same for every row and every time, so that a row is not drawn again for them.
  const onSelect = useEventCallback(choose);
  const onDraft = useEventCallback(observing.setDraft);
  const onObserve = useEventCallback((checkpoint: Checkpoint, level: number) => {
    focus.select(checkpoint.id);
    observing.observation(checkpoint, level);
  });
  const onCause = useEventCallback(onFindCause);
  const row = (checkpoint: Checkpoint, look: StageLook) => (
    <CheckpointRow
      key={checkpoint.id}
      checkpoint={checkpoint}
      selected={checkpoint.id === selected?.id}
      draft={observing.draftOf(checkpoint.id)}
      noteRef={note}
      slipsRef={slips}
      onSelect={onSelect}
      onDraft={onDraft}
      onObserve={onObserve}
      excepted={look.except?.includes(checkpoint.id)}
      onExcept={
        look.except && (checkpoint.standing?.level ?? 0) >= 3 ? () => look.flip(checkpoint.id) : undefined
      }
      onAccommodate={director ? setAccommodating : undefined}
      onFindCause={onCause}
    />
  );

  return (
    <>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', px: 1, py: 0.5 }}>
        <Typography sx={{ flex: 1, fontSize: '0.9rem', color: 'text.secondary' }}>
          {LEVELS.map((name, level) => (
            <Fragment key={name}>
              {level > 0 && ' · '}
              <Box component="strong" sx={{ color: 'text.primary' }}>
                {level}
              </Box>
              &nbsp;{name.replace(' ', '\u00a0')}
            </Fragment>
          ))}
        </Typography>
        <Button
          aria-label="Checkpoint before"
          aria-keyshortcuts="["
          onClick={() => step(-1)}
          variant="outlined"
          sx={{ minWidth: 44, px: 0 }}
        >
          [
        </Button>
        <Button
          aria-label="Next checkpoint"
          aria-keyshortcuts="]"
          onClick={() => step(1)}
          variant="outlined"
          sx={{ minWidth: 44, px: 0 }}
        >
          ]
        </Button>
      </Stack>
      {ladders.map((ladder) => (
        <Box component="section" key={ladder.strand} aria-label={ladder.name} sx={{ mb: 1.5 }}>
          <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline', px: 1, pt: 0.75, pb: 0.25 }}>
            <Typography variant="h3">{ladder.name}</Typography>
            {ladder.strand === 'tape' && (
              <Typography sx={{ color: tapes.trouble ? 'error.main' : 'text.secondary' }}>
                {tapes.trouble ? troubleWords(tapes) : TAPE_STATES[tapes.state]}
              </Typography>
            )}
            {ladder.strand === 'tape' && tapes.asset && (
              <Button
                component={Link}
                to={`/class/${classId}/tapes/bench/${tapes.asset}`}
                sx={{ ml: 'auto' }}
              >
                At the bench
              </Button>
            )}
          </Stack>
          <StageChips stages={ladder.stages} isOpen={isOpen} onToggle={focus.toggle} />
          {ladder.stages.filter(isOpen).map((stage) => (
            <StageBlock
              key={stage.id}
              classId={classId}
              childId={child.id}
              stage={stage}
              tape={ladder.strand === 'tape'}
              director={director}
              observing={observing}
              onExcepted={choose}
              row={row}
            />
          ))}
        </Box>
      ))}
      {accommodating && (
        <AccommodationDialog
          classId={classId}
          child={child}
          checkpoint={accommodating}
          version={page.accommodations.find((own) => own.checkpoint === accommodating.id)?.version}
          onClose={() => setAccommodating(undefined)}
        />
      )}
    </>
  );
}
