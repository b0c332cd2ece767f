import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { api, unwrap, type EditedCheckpoint, type Texts } from '../../api/client';
import { OneOf } from '../../parts/OneOf';
import { useAction } from '../../parts/useAction';
import { onWords } from './Changes';
import { TextFields } from './TextFields';

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
  const send = (body: {
    off: boolean;
    texts: { instruments: EditedCheckpoint['leftOut']; texts: Texts }[];
  }) =>
    action
      .run(() =>
        unwrap(
          api.PUT('/api/classes/{class}/checklist/{checkpoint}', {
            params: { path: { class: classId, checkpoint: checkpoint.id } },
            body,
          }),
        ),
      )
      .then((kept) => {
        if (kept) onClose();
      });
  const keep = () =>
    send({
      off,
      texts: checkpoint.texts.map(({ instruments, now }, index) => ({
        instruments,
        texts: texts[index] ?? now,
      })),
    });
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
      </DialogContent>
      <DialogActions sx={{ flexWrap: 'wrap', gap: 1, p: 2 }}>
        {changed && (
          <Button disabled={action.busy} onClick={() => void send({ off: false, texts: [] })}>
            As it ships again
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" loading={action.busy} onClick={() => void keep()}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  );
}
