import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, unwrap, type ChildPage, type Pain } from '../../api/client';
import { outbox } from '../../offline/useOutbox';
import { Callout } from '../../parts/page';
import { useAction } from '../../parts/useAction';
import { weekdayWords } from '../../words/dates';
import { PAIN_CAUTION } from '../../words/looks';

/** Pain that wants an answer: what to do, and a line on what was done. It stays until somebody writes that. */
export function OpenPain({ classId, page }: { classId: string; page: ChildPage }) {
  const open = page.pain.filter(({ done }) => !done);
  // By observation, and here: a note that is away for a moment, while its observation is read back, keeps what was typed.
  const [typed, setTyped] = useState<Record<string, string>>({});
  // Ticked on this page and still on its way: the caution does not wait for the server.
  const flagged = page.child.strings.some(({ flags }) => flags.includes('pain'));
  if (!flagged && open.length === 0) return null;
  return (
    <Box component="section" aria-label="It hurts" sx={{ display: 'grid', gap: 1, px: 1, pb: 1 }}>
      <Callout role="alert" style={{ fontSize: '1rem' }}>
        {PAIN_CAUTION}
      </Callout>
      {open.map((pain) => (
        <Answer
          key={pain.observation}
          classId={classId}
          childId={page.child.id}
          pain={pain}
          done={typed[pain.observation] ?? ''}
          onType={(done) => setTyped((all) => ({ ...all, [pain.observation]: done }))}
          mayAnswer={page.looksBack}
        />
      ))}
    </Box>
  );
}

interface AnswerProps {
  classId: string;
  childId: string;
  pain: Pain;
  /** What was typed so far. */
  done: string;
  onType: (done: string) => void;
  /** A substitute hands it on to the director. */
  mayAnswer: boolean;
}

function Answer({ classId, childId, pain, done, onType, mayAnswer }: AnswerProps) {
  const action = useAction(classId);
  const send = () =>
    action.run(async () => {
      await outbox.answered(pain.observation);
      return unwrap(
        api.POST('/api/classes/{class}/children/{child}/pain/{observation}', {
          params: { path: { class: classId, child: childId, observation: pain.observation } },
          body: { done },
        }),
      );
    });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ lineHeight: 1.3 }}>
        <strong>{pain.targetName}</strong>, {weekdayWords(pain.seen.at)}
        {pain.atHome ? ', said at home' : ''}, {pain.seen.by}
        {pain.note && (
          <Box component="span" sx={{ fontStyle: 'italic' }}>
            . {pain.note}
          </Box>
        )}
      </Box>
      {mayAnswer ? (
        <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-start' }}>
          <TextField
            label="What was done"
            value={done}
            fullWidth
            size="small"
            error={action.problemOf('done') !== undefined}
            helperText={action.problemOf('done')}
            slotProps={{ htmlInput: { maxLength: 300 } }}
            onChange={(event) => onType(event.target.value)}
          />
          <Button
            variant="contained"
            loading={action.busy}
            disabled={done.trim() === ''}
            onClick={() => void send()}
          >
            Save
          </Button>
        </Stack>
      ) : (
        <Typography>Tell the director today.</Typography>
      )}
      {action.error && !action.problemOf('done') && <Alert severity="error">{action.error}</Alert>}
    </Box>
  );
}

/** What hurt before, and what was done about it. */
export function AnsweredPain({ pain }: { pain: Pain[] }) {
  const answered = pain.filter(({ done }) => done);
  if (answered.length === 0) return null;
  return (
    <Box component="section" aria-label="It hurt before">
      <Typography variant="h3" component="h3">
        It hurt before
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
        {answered.map((note) => (
          <li key={note.observation}>
            {note.targetName}, {weekdayWords(note.seen.at)}
            {note.note && `: ${note.note}`} {note.done} ({note.answered?.by})
          </li>
        ))}
      </Box>
    </Box>
  );
}
