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
import {
  api,
  basedOn,
  unwrap,
  type EditedCheckpoint,
  type EditedStage,
  type Instrument,
  type Texts,
} from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { SavedMeanwhile } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';
import { says } from './CheckpointDialog';
import { FigureFields } from './FigureFields';
import { TextFields } from './TextFields';

const TRAITS = [
  ['required', 'The stage waits for it'],
  ['far', 'Seen from two rows away'],
  ['play', 'The child plays'],
] as const;

interface Props {
  classId: string;
  stages: EditedStage[];
  /** The checkpoint that is changed; absent for a new one. */
  known?: { checkpoint?: EditedCheckpoint; stage: EditedStage };
  onClose: () => void;
}

function flip<T>(all: T[], one: T): T[] {
  return all.includes(one) ? all.filter((other) => other !== one) : [...all, one];
}

/** A checkpoint of the class's own: where it stands, for whom, and how it reads. */
export function OwnDialog({ classId, stages, known, onClose }: Props) {
  const before = known?.checkpoint;
  const [name, setName] = useState(before?.name ?? '');
  const [stage, setStage] = useState(known?.stage.id ?? 'hold.1');
  const [seconds, setSeconds] = useState(String(before?.seconds ?? 8));
  const [traits, setTraits] = useState<string[]>(before?.traits ?? []);
  const [instruments, setInstruments] = useState<Instrument[]>(
    before?.texts.flatMap((text) => text.instruments) ?? INSTRUMENTS,
  );
  const [texts, setTexts] = useState<Texts>(before?.texts[0]?.now ?? { lookFor: '', proof: '', cue: '' });
  const [figure, setFigure] = useState(before?.figure);
  const action = useAction(classId);
  const body = {
    name,
    stage,
    seconds: Number(seconds) || 0,
    required: traits.includes('required'),
    far: traits.includes('far'),
    play: traits.includes('play'),
    texts: [{ instruments, texts }],
    ...(figure && { figure }),
  };
  const close = (kept: boolean) => {
    if (kept) onClose();
  };
  const path = { class: classId, checkpoint: before?.id ?? '' };
  // As it was when the form opened: what others save meanwhile is asked about. A new one is made once, however often it is sent.
  const [{ opened, request }] = useState(() => ({ opened: before?.version, request: uuid() }));
  const keep = (version: string | undefined) =>
    action
      .run(() =>
        before
          ? unwrap(
              api.PUT('/api/classes/{class}/checklist/{checkpoint}/own', {
                params: { path },
                headers: basedOn(version),
                body,
              }),
            )
          : unwrap(
              api.POST('/api/classes/{class}/checklist', {
                params: { path: { class: classId } },
                body: { ...body, request },
              }),
            ),
      )
      .then(close);
  const switchOff = (off: boolean) =>
    action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/checklist/{checkpoint}', {
          params: { path },
          headers: basedOn(opened),
          body: { off, texts: [] },
        }),
      ),
    );
  const remove = () =>
    action.run(() =>
      unwrap(api.DELETE('/api/classes/{class}/checklist/{checkpoint}/own', { params: { path } })),
    );
  const off = before?.traits.includes('off') ?? false;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="own-title">
      <DialogTitle id="own-title" component="h2">
        {before ? before.name : 'A checkpoint of your own'}
      </DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'grid', gap: 2, pt: 1 }}>
          <TextField
            label="Name"
            value={name}
            size="small"
            error={action.problemOf('name') !== undefined}
            helperText={action.problemOf('name') ?? `${name.length} of 28 characters`}
            onChange={(event) => setName(event.target.value)}
          />
          <Stack direction="row" spacing={1.5}>
            <TextField
              select
              label="Stage"
              value={stage}
              size="small"
              sx={{ flex: 1 }}
              error={action.problemOf('stage') !== undefined}
              helperText={action.problemOf('stage')}
              onChange={(event) => setStage(event.target.value)}
            >
              {stages
                // The id says in which strand it stands, and ids never change.
                .filter(({ strand }) => strand !== 'tape' && (!known || strand === known.stage.strand))
                .map((option) => (
                  <MenuItem key={option.id} value={option.id}>
                    {option.strandName} {option.number}, {option.name}
                  </MenuItem>
                ))}
            </TextField>
            <TextField
              label="Seconds a look takes"
              value={seconds}
              size="small"
              sx={{ width: 180 }}
              error={action.problemOf('seconds') !== undefined}
              helperText={action.problemOf('seconds')}
              slotProps={{ htmlInput: { inputMode: 'numeric' } }}
              onChange={(event) => setSeconds(event.target.value)}
            />
          </Stack>
          <Stack direction="row" spacing={0.75} role="group" aria-label="For" sx={{ flexWrap: 'wrap' }}>
            {INSTRUMENTS.map((one) => (
              <Toggle
                key={one}
                on={instruments.includes(one)}
                onClick={() => setInstruments((all) => flip(all, one))}
              >
                {capital(one)}
              </Toggle>
            ))}
          </Stack>
          <Stack
            direction="row"
            spacing={0.75}
            role="group"
            aria-label="What it is"
            sx={{ flexWrap: 'wrap' }}
          >
            {TRAITS.map(([key, label]) => (
              <Toggle key={key} on={traits.includes(key)} onClick={() => setTraits((all) => flip(all, key))}>
                {label}
              </Toggle>
            ))}
          </Stack>
          <FigureFields
            figure={figure}
            instrument={instruments[0] ?? 'violin'}
            problem={action.problemOf('figure')}
            onChange={setFigure}
          />
          <TextFields about="" texts={texts} problemOf={action.problemOf} onChange={setTexts} />
          {action.error && <Alert severity="error">{action.error}</Alert>}
          {before && (
            <SavedMeanwhile
              action={action}
              mine={{ ...before, name, texts: [{ instruments, now: texts, shared: texts }] }}
              says={(own) => [['Name', own.name], ...says(own)]}
              onMine={(version) => void keep(version)}
              onTheirs={onClose}
            />
          )}
        </Box>
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        {before && (
          <>
            <Button disabled={action.busy} onClick={() => void switchOff(!off).then(close)}>
              {off ? 'Switch on' : 'Switch off'}
            </Button>
            <Button disabled={action.busy} onClick={() => void remove().then(close)}>
              Remove
            </Button>
          </>
        )}
        <Box sx={{ flex: 1 }} />
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void keep(opened)}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
