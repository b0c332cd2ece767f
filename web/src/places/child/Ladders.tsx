import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { Fragment, useRef, useState } from 'react';
import type { Checkpoint, Ladder, Schemas, Stage } from '../../api/client';
import { useKeys } from '../../parts/keys';
import { isDue, LEVELS, recheckWords, TAPE_STATES, TAPE_TROUBLES } from '../../words';
import { CheckpointRow } from './CheckpointRow';
import { StageChips } from './StageChips';
import type { Marking } from './useMarking';

const Head = styled('div')(({ theme }) => ({
  display: 'flex',
  alignItems: 'center',
  minHeight: 44,
  gap: theme.spacing(1),
  padding: theme.spacing(0.25, 0.5, 0.25, 1),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  '& .state': { flex: 1, color: theme.vars.palette.text.secondary },
}));

/** What the others wait for, or how this one stands. */
function stageWords(stage: Stage): string {
  if (stage.state === 'shut') return `opens after ${stage.waitsFor.join(' and ')}`;
  const due = stage.recheck && isDue(stage.recheck) ? `, ${recheckWords(stage.recheck)}` : '';
  return stage.state + due;
}

/** Being worked on, or due again as a whole. */
function wantsLook({ state, recheck }: Stage): boolean {
  return state === 'open' || (state === 'reached' && isDue(recheck));
}

/** What wants a look first: something due or not at Alone yet in an open stage. */
function firstToLook(ladders: Ladder[]): string | undefined {
  const open = ladders.flatMap(({ stages }) => stages).filter(({ state }) => state === 'open');
  const checkpoints = open.flatMap((stage) => stage.checkpoints);
  const due = checkpoints.find(({ standing }) => isDue(standing?.recheck));
  return (due ?? checkpoints.find(({ standing }) => (standing?.level ?? 0) < 3) ?? checkpoints[0])?.id;
}

interface Props {
  ladders: Ladder[];
  tapes: Schemas['TapesView'];
  marking: Marking;
}

/** The four ladders: open stages with their checkpoints, the others in a line that opens. */
export function Ladders({ ladders, tapes, marking }: Props) {
  const [toggled, setToggled] = useState<Record<string, boolean>>({});
  const [chosen, setChosen] = useState(() => firstToLook(ladders));
  const note = useRef<HTMLTextAreaElement>(null);
  const slips = useRef<HTMLDivElement>(null);

  const stages = ladders.flatMap((ladder) => ladder.stages);
  // A stage that was open when the child was opened stays so: marking moves nothing under the finger.
  const [openAtFirst] = useState(
    () => new Set(stages.filter(({ state }) => state === 'open').map(({ id }) => id)),
  );
  const isOpen = (stage: Stage) => toggled[stage.id] ?? (wantsLook(stage) || openAtFirst.has(stage.id));
  const visible = stages.filter(isOpen).flatMap((stage) => stage.checkpoints);
  const selected: Checkpoint | undefined = visible.find(({ id }) => id === chosen) ?? visible[0];

  const choose = (id: string) => {
    setChosen(id);
    requestAnimationFrame(() =>
      document.getElementById(`checkpoint-${id}`)?.scrollIntoView({ block: 'nearest' }),
    );
  };
  const step = (by: number) => {
    const next = visible[visible.findIndex(({ id }) => id === selected?.id) + by];
    if (next) choose(next.id);
  };
  const press = (level: number) => {
    if (!selected) return;
    // Tapes have two keys: 0 and 3, not there and there.
    if (selected.id.startsWith('tape.') && level !== 0 && level !== 3) return;
    marking.mark(selected, level);
  };
  useKeys({
    '[': () => step(-1),
    ']': () => step(1),
    ...Object.fromEntries(LEVELS.map((_, level) => [String(level), () => press(level)])),
    n: () => note.current?.focus(),
    s: () => slips.current?.querySelector('button')?.focus(),
  });

  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 1, py: 0.5 }}>
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
      </Box>
      {ladders.map((ladder) => (
        <Box component="section" key={ladder.strand} aria-label={ladder.name} sx={{ mb: 1.5 }}>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1, px: 1, pt: 0.75, pb: 0.25 }}>
            <Typography variant="h3">{ladder.name}</Typography>
            {ladder.strand === 'tape' && (
              <Typography sx={{ color: tapes.trouble ? 'error.main' : 'text.secondary' }}>
                {tapes.trouble ? TAPE_TROUBLES[tapes.trouble] : TAPE_STATES[tapes.state]}
              </Typography>
            )}
          </Box>
          <StageChips
            stages={ladder.stages}
            isOpen={isOpen}
            onToggle={(stage) => setToggled((all) => ({ ...all, [stage.id]: !isOpen(stage) }))}
          />
          {ladder.stages.filter(isOpen).map((stage) => (
            <Box key={stage.id}>
              <Head>
                <strong>
                  {stage.number} {stage.name}
                </strong>
                <span className="state">{stageWords(stage)}</span>
                {ladder.strand !== 'tape' && stage.recheck && isDue(stage.recheck) && (
                  <Button variant="outlined" onClick={() => marking.holds(stage)}>
                    Still there
                  </Button>
                )}
              </Head>
              <Box component="ul" aria-label={`${stage.name}, checkpoints`} sx={{ m: 0, p: 0 }}>
                {stage.checkpoints.map((checkpoint) => (
                  <CheckpointRow
                    key={checkpoint.id}
                    checkpoint={checkpoint}
                    selected={checkpoint.id === selected?.id}
                    draft={marking.draftOf(checkpoint.id)}
                    noteRef={note}
                    slipsRef={slips}
                    onSelect={() => choose(checkpoint.id)}
                    onDraft={(draft) => marking.setDraft(checkpoint.id, draft)}
                    onMark={(level) => {
                      setChosen(checkpoint.id);
                      marking.mark(checkpoint, level);
                    }}
                  />
                ))}
              </Box>
            </Box>
          ))}
        </Box>
      ))}
    </>
  );
}
