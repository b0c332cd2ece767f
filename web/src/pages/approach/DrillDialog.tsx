import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import { api, basedOn, unwrap, type EditedStage, type Schemas } from '../../api/client';
import { SavedMeanwhile } from '../../parts/SavedMeanwhile';
import { Toggle } from '../../parts/Toggle';
import { useAction } from '../../parts/useAction';
import { DRILL_LEVELS } from '../../words/drills';
import { INSTRUMENTS, STRANDS } from '../../words/looks';
import { capital } from '../../words/text';
import { DrillSteps } from './DrillSteps';
import { ALL_LEVELS, flipInstrument, flipLevel, fromTheStart, newDrill, type Drill } from './drillDraft';

type Known = Schemas['EditedDrill'];

interface Props {
  classId: string;
  stages: EditedStage[];
  /** The drill that is changed; absent for a new one. */
  known?: Known;
  onClose: () => void;
}

const FROM_THE_START = 'none';
/** The strands that drills are for. */
const STRANDS_OF_DRILLS = ['hold', 'bow', 'frame'] as const;

/** What a drill says, for comparing two. */
function says({ drill }: Known): [what: string, words: string][] {
  return [
    ['Name', drill.name],
    ['Aim', drill.aim],
    ['Tempo', `${drill.tempo} a minute`],
    ['Rounds', String(drill.rounds)],
    ...drill.steps.map(
      (step, index) =>
        [
          `Step ${index + 1}`,
          `${step.beats} beats: ${[...new Set(Object.values(step.text))].join(' / ')}`,
        ] as [string, string],
    ),
  ];
}

/** A drill in the class's own words, or one of the class's own. */
export function DrillDialog({ classId, stages, known, onClose }: Props) {
  const [drill, setDrill] = useState<Drill>(known?.drill ?? newDrill());
  const action = useAction(classId);
  // As it was when the form opened: what others save meanwhile is asked about. A new one is made once, however often it is sent.
  const [{ opened, request }] = useState(() => ({ opened: known?.version, request: uuid() }));
  const path = { class: classId, drill: known?.drill.id ?? '' };
  const close = (kept: boolean) => {
    if (kept) onClose();
  };
  const put = (version: string | undefined, body: Schemas['DrillBody']) =>
    action
      .run(() =>
        unwrap(
          api.PUT('/api/classes/{class}/drills/{drill}', {
            params: { path },
            headers: basedOn(version),
            body,
          }),
        ),
      )
      .then(close);
  const save = (version: string | undefined) =>
    known
      ? put(version, { off: known.off, drill })
      : action
          .run(() =>
            unwrap(
              api.POST('/api/classes/{class}/drills', {
                params: { path: { class: classId } },
                body: { drill, request },
              }),
            ),
          )
          .then(close);
  const remove = () =>
    action
      .run(() => unwrap(api.DELETE('/api/classes/{class}/drills/{drill}', { params: { path } })))
      .then(close);
  const text = (key: 'name' | 'aim', label: string, most: number) => (
    <TextField
      label={label}
      size="small"
      value={drill[key]}
      error={drill[key].length > most || action.problemOf(key) !== undefined}
      helperText={action.problemOf(key) ?? `${drill[key].length} of ${most} characters`}
      onChange={(event) => setDrill({ ...drill, [key]: event.target.value })}
    />
  );
  const number = (key: 'tempo' | 'rounds', label: string) => (
    <TextField
      label={label}
      size="small"
      sx={{ flex: 1, minWidth: 120 }}
      value={String(drill[key])}
      error={action.problemOf(key) !== undefined}
      helperText={action.problemOf(key)}
      slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      onChange={(event) => setDrill({ ...drill, [key]: Number.parseInt(event.target.value, 10) || 0 })}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="drill-title">
      <DialogTitle id="drill-title" component="h2">
        {known ? known.drill.name : 'A drill of your own'}
      </DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'grid', gap: 2, pt: 1 }}>
          {text('name', 'Name', 28)}
          {text('aim', 'Aim, as the child says it', 40)}
          <Stack direction="row" spacing={1.5} sx={{ flexWrap: 'wrap', rowGap: 1.5 }}>
            {!known && (
              <TextField
                select
                label="For"
                size="small"
                sx={{ flex: 1, minWidth: 140 }}
                value={drill.strand}
                onChange={(event) => setDrill({ ...drill, strand: event.target.value as Drill['strand'] })}
              >
                {STRANDS_OF_DRILLS.map((strand) => (
                  <MenuItem key={strand} value={strand}>
                    {STRANDS[strand]}
                  </MenuItem>
                ))}
              </TextField>
            )}
            <TextField
              select
              label="Once they have passed"
              size="small"
              sx={{ flex: 1, minWidth: 180 }}
              value={drill.after ?? FROM_THE_START}
              error={action.problemOf('after') !== undefined}
              helperText={action.problemOf('after')}
              onChange={({ target: { value } }) => {
                setDrill(value === FROM_THE_START ? fromTheStart(drill) : { ...drill, after: value });
              }}
            >
              <MenuItem value={FROM_THE_START}>From the first day</MenuItem>
              {stages
                .filter(({ strand }) => strand !== 'tape')
                .map((stage) => (
                  <MenuItem key={stage.id} value={stage.id}>
                    {stage.strandName} {stage.number}, {stage.name}
                  </MenuItem>
                ))}
            </TextField>
            {number('tempo', 'Beats a minute')}
            {number('rounds', 'Rounds')}
          </Stack>
          <Stack direction="row" spacing={0.75} role="group" aria-label="For" sx={{ flexWrap: 'wrap' }}>
            {INSTRUMENTS.map((one) => (
              <Toggle
                key={one}
                on={drill.on.includes(one)}
                onClick={() => setDrill(flipInstrument(drill, one))}
              >
                {capital(one)}
              </Toggle>
            ))}
          </Stack>
          <Stack direction="row" spacing={0.75} role="group" aria-label="Played" sx={{ flexWrap: 'wrap' }}>
            {ALL_LEVELS.map((level) => (
              <Toggle
                key={level}
                on={drill.levels?.includes(level) ?? false}
                onClick={() => setDrill(flipLevel(drill, level))}
              >
                {DRILL_LEVELS[level]}
              </Toggle>
            ))}
          </Stack>
          {action.problemOf('levels') && <Alert severity="error">{action.problemOf('levels')}</Alert>}
          {action.problemOf('on') && <Alert severity="error">{action.problemOf('on')}</Alert>}
          <DrillSteps
            drill={drill}
            problemOf={action.problemOf}
            onChange={(steps) => setDrill({ ...drill, steps })}
          />
          {action.error && <Alert severity="error">{action.error}</Alert>}
          {known && (
            <SavedMeanwhile
              action={action}
              mine={{ ...known, drill }}
              says={says}
              onMine={(version) => void save(version)}
              onTheirs={onClose}
            />
          )}
        </Box>
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        {known && (
          <>
            <Button
              disabled={action.busy}
              onClick={() => void put(opened, { off: !known.off, drill: known.drill })}
            >
              {known.off ? 'Switch on' : 'Switch off'}
            </Button>
            {known.own && (
              <Button disabled={action.busy} onClick={() => void remove()}>
                Remove
              </Button>
            )}
            {known.shared && (
              <Button disabled={action.busy} onClick={() => void put(opened, { off: known.off })}>
                As it ships
              </Button>
            )}
          </>
        )}
        <Box sx={{ flex: 1 }} />
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void save(opened)}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
