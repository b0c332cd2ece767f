import Stack from '@mui/material/Stack';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import InputBase from '@mui/material/InputBase';
import { styled } from '@mui/material/styles';
import { memo, type RefObject } from 'react';
import type { Checkpoint, Says } from '../../api/client';
import { LookDrawing, SlipDrawing } from '../../parts/drawings';
import { Toggle } from '../../parts/Toggle';
import { Callout } from '../../parts/page';
import { LevelKeys } from '../../parts/LevelKeys';
import { dayWords } from '../../words/dates';
import { ALL_SAYS, LEVELS, PAIN_NOW, SAYS, SORE_TIPS_NOW } from '../../words/looks';
import { recheckWords } from '../../words/room';
import type { Draft } from './useObserving';

const Row = styled('li')(({ theme }) => ({
  listStyle: 'none',
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '&.selected': {
    background: `color-mix(in oklab, ${theme.vars.palette.own.warm} 45%, ${theme.vars.palette.background.paper})`,
    boxShadow: `inset 4px 0 ${theme.vars.palette.own.glow}`,
  },
}));

const Name = styled(ButtonBase)(({ theme }) => ({
  flex: 1,
  minWidth: 0,
  minHeight: 48,
  display: 'block',
  textAlign: 'left',
  padding: theme.spacing(0.5, 1.25),
  fontSize: '1rem',
  lineHeight: 1.25,
  '& small': { display: 'block', fontSize: '0.875rem', color: theme.vars.palette.text.secondary },
}));

const Note = styled(InputBase)(({ theme }) => ({
  padding: theme.spacing(0.75, 1.25),
  border: `1px solid ${theme.vars.palette.text.secondary}`,
  borderRadius: theme.shape.borderRadius,
  background: theme.vars.palette.background.paper,
  '& textarea': { fieldSizing: 'content', resize: 'none' },
  '& textarea::placeholder': { color: theme.vars.palette.text.secondary, opacity: 1 },
  '&.Mui-focused': { outline: `3px solid ${theme.vars.palette.primary.main}` },
}));

/** How a checkpoint stands, in a few words. */
function standingWords({ id, standing, applies, accommodated }: Checkpoint): string {
  if (!applies) return `does not apply: ${accommodated ?? ''}`;
  if (!standing) return 'not looked at yet';
  const level = id.startsWith('tape.')
    ? standing.level >= 3
      ? 'there'
      : 'not there'
    : (LEVELS[standing.level] ?? '');
  const slipped = standing.slipped ? ['slipped'] : [];
  const due = standing.recheck && standing.recheck.state !== 'fresh' ? [recheckWords(standing.recheck)] : [];
  const says = standing.says && standing.says !== 'easy' ? [`says ${SAYS[standing.says].toLowerCase()}`] : [];
  return [level, ...slipped, ...says, ...due, dayWords(standing.lookedAt)].join(', ');
}

interface Props {
  checkpoint: Checkpoint;
  selected: boolean;
  draft: Draft;
  noteRef: RefObject<HTMLTextAreaElement | null>;
  slipsRef: RefObject<HTMLDivElement | null>;
  onSelect: (checkpoint: string) => void;
  onDraft: (checkpoint: string, draft: Draft) => void;
  onObserve: (checkpoint: Checkpoint, level: number) => void;
  /** While a whole stage is looked at: whether this one is excepted. */
  excepted?: boolean | undefined;
  onExcept?: (() => void) | undefined;
  /** Says what counts for this child; only for those who may. */
  onAccommodate?: ((checkpoint: Checkpoint) => void) | undefined;
  onFindCause: () => void;
}

/**
 * A checkpoint with its level keys; the selected one shows what to look for. Drawn again only where something of its own has
 * changed: a ladder has dozens, and a tap changes one.
 */
export const CheckpointRow = memo(function CheckpointRow(props: Props) {
  const { checkpoint, selected, draft, noteRef, slipsRef, onSelect, onObserve } = props;
  const { excepted, onExcept, onAccommodate, onFindCause } = props;
  const onDraft = (next: Draft) => props.onDraft(checkpoint.id, next);
  const say = (says: Says) => onDraft({ ...draft, says: draft.says === says ? undefined : says });
  const toggle = (slip: string) =>
    onDraft({
      ...draft,
      slips: draft.slips.includes(slip)
        ? draft.slips.filter((other) => other !== slip)
        : [...draft.slips, slip],
    });
  return (
    <Row className={selected ? 'selected' : undefined} id={`checkpoint-${checkpoint.id}`}>
      <Stack direction="row" spacing={0.5} sx={{ alignItems: 'center', pr: 0.5, py: 0.25 }}>
        <Name aria-expanded={selected} onClick={() => onSelect(checkpoint.id)}>
          {checkpoint.name}
          <small>{standingWords(checkpoint)}</small>
        </Name>
        {onExcept ? (
          <Toggle on={excepted ?? false} onClick={onExcept}>
            Not this one
          </Toggle>
        ) : (
          checkpoint.applies && (
            <LevelKeys
              name={checkpoint.name}
              level={checkpoint.standing?.level}
              tape={checkpoint.id.startsWith('tape.')}
              onObserve={(level) => onObserve(checkpoint, level)}
            />
          )
        )}
      </Stack>
      {selected && (
        <Box sx={{ px: 1.25, pb: 1.25, display: 'grid', gap: 0.75 }}>
          <Stack direction="row" spacing={1.25}>
            {/* What counts for this child only is in its words. */}
            {!checkpoint.accommodated && (
              <LookDrawing
                checkpoint={checkpoint.id}
                name={checkpoint.name}
                lookFor={checkpoint.lookFor}
                proof={checkpoint.proof}
                cue={checkpoint.cue}
              />
            )}
            <Box sx={{ flex: 1, minWidth: 0, display: 'grid', gap: 0.75, alignContent: 'start' }}>
              <Box sx={{ fontSize: '1.05rem', fontWeight: 600, lineHeight: 1.3 }}>{checkpoint.lookFor}</Box>
              {checkpoint.accommodated && checkpoint.applies && (
                <Box>
                  <strong>For this child:</strong> {checkpoint.accommodated}
                </Box>
              )}
              {checkpoint.proof && (
                <Box>
                  <strong>Proof:</strong> {checkpoint.proof}
                </Box>
              )}
              <Box>
                <strong>Say:</strong> “{checkpoint.cue}”
              </Box>
            </Box>
          </Stack>
          {checkpoint.slips.length > 0 && (
            <Stack
              direction="row"
              spacing={0.75}
              ref={slipsRef}
              role="group"
              aria-label="Slips seen"
              sx={{ flexWrap: 'wrap' }}
            >
              {checkpoint.slips.map((slip) => (
                <Tooltip key={slip.id} title={slip.look}>
                  <Toggle on={draft.slips.includes(slip.id)} onClick={() => toggle(slip.id)}>
                    {slip.name}
                  </Toggle>
                </Tooltip>
              ))}
            </Stack>
          )}
          {checkpoint.slips
            .filter((slip) => draft.slips.includes(slip.id))
            .map((slip) => (
              <Stack key={slip.id} direction="row" spacing={1.25} sx={{ alignItems: 'center' }}>
                <SlipDrawing slip={slip.id} help={slip.help} />
                <Box>
                  <strong>Look:</strong> {slip.look} <strong>First help:</strong> {slip.help}
                </Box>
              </Stack>
            ))}
          <Stack
            direction="row"
            spacing={0.75}
            role="group"
            aria-label="The child says"
            sx={{ flexWrap: 'wrap' }}
          >
            {ALL_SAYS.map((says) => (
              <Toggle key={says} on={draft.says === says} onClick={() => say(says)}>
                {SAYS[says]}
              </Toggle>
            ))}
          </Stack>
          {draft.says === 'soreTips' && <Typography role="status">{SORE_TIPS_NOW}</Typography>}
          {draft.says === 'hurts' && <Callout role="alert">{PAIN_NOW}</Callout>}
          <Note
            multiline
            // The browser lets it grow by itself; measured by script it would be laid out anew with every tap.
            inputComponent="textarea"
            inputRef={noteRef}
            value={draft.note}
            placeholder="Note, goes with the next observation  N"
            inputProps={{ 'aria-label': `Note for ${checkpoint.name}`, maxLength: 500, rows: 1 }}
            onChange={(event) => onDraft({ ...draft, note: event.target.value })}
            onKeyDown={(event) => {
              if (event.key === 'Escape') {
                event.stopPropagation();
                (event.target as HTMLElement).blur();
              }
            }}
          />
          <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap' }}>
            <Button variant="outlined" onClick={onFindCause}>
              What causes it?
            </Button>
            {onAccommodate && (
              <Button variant="outlined" aria-haspopup="dialog" onClick={() => onAccommodate(checkpoint)}>
                For this child
              </Button>
            )}
          </Stack>
        </Box>
      )}
    </Row>
  );
});
