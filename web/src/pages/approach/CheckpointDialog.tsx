import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { api, basedOn, unwrap, type EditedCheckpoint, type Texts } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';
import { onWords } from './Changes';
import { TextFields } from './TextFields';

/** What a checkpoint says, for comparing two. */
export function says({ traits, texts }: EditedCheckpoint): Said[] {
  return [
    ['Asked for', traits.includes('off') ? 'no' : 'yes'],
    ...texts.flatMap(({ instruments, now }): Said[] => {
      const on = (what: string) => `${what}, ${onWords(instruments)}`;
      return [
        [on('Look for'), now.lookFor],
        [on('Proof'), now.proof],
        [on('Cue'), now.cue],
      ];
    }),
  ];
}

interface Props {
  classId: string;
  checkpoint: EditedCheckpoint;
  onClose: () => void;
}

/** A shared checkpoint: asked for or not, and how it reads in this class. */
export function CheckpointDialog({ classId, checkpoint, onClose }: Props) {
  const [off, setOff] = useState(checkpoint.traits.includes('off'));
  const [texts, setTexts] = useState<Texts[]>(() => checkpoint.texts.map(({ now }) => now));
  const action = useAction(classId);
  // As it was when the form opened: what others save meanwhile is asked about.
  const [opened] = useState(checkpoint.version);
  const send = (
    body: { off: boolean; texts: { instruments: EditedCheckpoint['leftOut']; texts: Texts }[] },
    version: string | undefined,
  ) =>
    action
      .run(() =>
        unwrap(
          api.PUT('/api/classes/{class}/checklist/{checkpoint}', {
            params: { path: { class: classId, checkpoint: checkpoint.id } },
            headers: basedOn(version),
            body,
          }),
        ),
      )
      .then((kept) => {
        if (kept) onClose();
      });
  const mine = checkpoint.texts.map((text, index) => ({ ...text, now: texts[index] ?? text.now }));
  const keep = (version: string | undefined) =>
    send({ off, texts: mine.map(({ instruments, now }) => ({ instruments, texts: now })) }, version);
  const changed = checkpoint.traits.includes('off') || checkpoint.traits.includes('reworded');
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="checkpoint-title">
      <DialogTitle id="checkpoint-title" component="h2">
        {checkpoint.name}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <OneOf
          name="Whether it is asked for"
          value={off ? 'off' : 'on'}
          options={[
            ['on', 'Asked for'],
            ['off', 'Switched off'],
          ]}
          onChoose={(what) => setOff(what === 'off')}
        />
        {off ? (
          <Box>Nobody is looked at here. Observations that were made stay, and come back with it.</Box>
        ) : (
          checkpoint.texts.map(({ instruments, now, shared }, index) => (
            <TextFields
              key={instruments.join()}
              about={onWords(instruments)}
              texts={texts[index] ?? now}
              shared={shared}
              problemOf={action.problemOf}
              onChange={(next) => setTexts((all) => all.map((text, at) => (at === index ? next : text)))}
            />
          ))
        )}
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <SavedMeanwhile
          action={action}
          mine={{ ...checkpoint, traits: off ? ['off' as const] : [], texts: mine }}
          says={says}
          onMine={(version) => void keep(version)}
          onTheirs={onClose}
        />
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        {changed && (
          <Button disabled={action.busy} onClick={() => void send({ off: false, texts: [] }, opened)}>
            As it ships again
          </Button>
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
