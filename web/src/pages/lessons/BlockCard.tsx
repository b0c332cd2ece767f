import IconButton from '@mui/material/IconButton';
import type { Schemas } from '../../api/client';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import { OneOf } from '../../parts/OneOf';
import { Card, Callout } from '../../parts/page';
import { Tuning } from '../../parts/Tuning';
import { fingerWords } from '../../words/markers';
import { capital, count } from '../../words/text';
import { Names } from './OverviewPart';

type Lesson = Schemas['LessonView'];
type Block = Schemas['PlannedBlock'];

export const NAMES: Record<Block['kind'], string> = {
  setUp: 'Tune and set up',
  drill: 'Drill',
  look: 'Round',
  book: 'Book',
  tune: 'Tune by ear',
};

interface BlockProps {
  classId: string;
  lesson: Lesson;
  block: Block;
  onChange: (what: Partial<Block>) => void;
  onUp: (() => void) | undefined;
  onDown: (() => void) | undefined;
  onRemove: () => void;
}

export function BlockCard({ classId, lesson, block, onChange, onUp, onDown, onRemove }: BlockProps) {
  const drill = lesson.drills.find(({ drill: { id } }) => id === block.drill)?.drill;
  const name = drill?.name ?? NAMES[block.kind];
  const known = lesson.tunes.find((tune) => tune.name === block.line);
  return (
    <Card aria-label={name} sx={{ p: 1.5, display: 'grid', gap: 1 }}>
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography variant="h3" sx={{ flex: 1, minWidth: 160 }}>
          {name}
        </Typography>
        <IconButton
          aria-label={`One minute less for ${name}`}
          disabled={block.minutes <= 1}
          onClick={() => onChange({ minutes: block.minutes - 1 })}
        >
          −
        </IconButton>
        <Box component="output" sx={{ minWidth: 64, textAlign: 'center', fontWeight: 700 }}>
          {block.minutes} min
        </Box>
        <IconButton
          aria-label={`One minute more for ${name}`}
          onClick={() => onChange({ minutes: block.minutes + 1 })}
        >
          +
        </IconButton>
        <IconButton aria-label={`${name} earlier`} disabled={!onUp} onClick={onUp}>
          ↑
        </IconButton>
        <IconButton aria-label={`${name} later`} disabled={!onDown} onClick={onDown}>
          ↓
        </IconButton>
        <IconButton aria-label={`Leave out ${name}`} onClick={onRemove}>
          ×
        </IconButton>
      </Stack>
      {drill && (
        <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <Box sx={{ flex: 1, minWidth: 200 }}>“{drill.aim}”</Box>
          <Button
            component={Link}
            variant="outlined"
            to={`/class/${classId}/lead/${drill.id}`}
            aria-label={`Lead ${name}`}
          >
            Lead
          </Button>
        </Stack>
      )}
      {block.kind === 'look' && (
        <Button
          component={Link}
          variant="outlined"
          sx={{ justifySelf: 'start' }}
          to={`/class/${classId}/round`}
        >
          To the round
        </Button>
      )}
      {(block.kind === 'book' || block.kind === 'tune') && (
        <TextField
          size="small"
          label={block.kind === 'book' ? 'Book and page' : 'Which tune'}
          value={block.line ?? ''}
          slotProps={{
            htmlInput: { maxLength: 120, ...(block.kind === 'tune' && { list: 'tunes' }) },
          }}
          onChange={(event) => onChange({ line: event.target.value })}
        />
      )}
      {block.kind === 'tune' && (
        <>
          <datalist id="tunes">
            {lesson.tunes.map(({ id, name: tune }) => (
              <option key={id} value={tune} />
            ))}
          </datalist>
          <Button
            component={Link}
            variant="outlined"
            sx={{ justifySelf: 'start' }}
            to={`/class/${classId}/tapes/notes${known ? `?tune=${known.id}` : ''}`}
          >
            Who plays it where
          </Button>
        </>
      )}
      {block.kind === 'setUp' && <SetUp classId={classId} lesson={lesson} />}
    </Card>
  );
}

/** Tuning first; whose pin, support or tapes are due. */
function SetUp({ classId, lesson }: { classId: string; lesson: Lesson }) {
  const due = [
    { what: 'Pins and supports', who: lesson.supports },
    { what: 'Tapes', who: lesson.tapes },
  ];
  return (
    <>
      <Callout>
        Push pegs in while they turn, never a bass’s; a string can snap at the eyes. Pins are sharp, basses
        fall: one at a time, anchored. The school’s rules and its luthier come first.
      </Callout>
      <Box component="details">
        <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
          Tuning: tones, and which way to turn
        </Box>
        <Tuning tuning={lesson.tuning} />
        <Button component={Link} variant="outlined" sx={{ mt: 1 }} to={`/class/${classId}/lessons/tuning`}>
          The whole class, one after the other
        </Button>
      </Box>
      {due.map(({ what, who }) => (
        <Box key={what} component="details">
          <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
            {what}: {who.length === 0 ? 'nobody is due' : `${count(who.length, 'child', 'children')} due`}
          </Box>
          <Names classId={classId}>{who}</Names>
        </Box>
      ))}
    </>
  );
}

type Note = Schemas['NoteView'];

/** `F sharp on D`. */
function onString({ note, string }: Note): string {
  return `${note} on ${string}`;
}

/** `2`, `open G`. */
function stopWords(stop: Note['stop'] | undefined): string {
  if (stop === undefined) return 'not in first position';
  return 'open' in stop ? `open ${stop.open}` : fingerWords(stop.finger);
}

/** What differs on the next instrument, before one shows something to everybody. */
export function Glances({ glances }: { glances: Lesson['glances'] }) {
  const names = glances[0]?.notes.map(onString) ?? [];
  const [note, setNote] = useState(names[1] ?? '');
  return (
    <Card aria-label="What differs on the next instrument">
      <Typography variant="h3" component="h2">
        What differs on the next instrument
      </Typography>
      <OneOf
        name="The note"
        value={note}
        options={names.map((name) => [name, name] as const)}
        onChoose={setNote}
      />
      {glances.map(({ instrument, thumb, spacing, notes }) => (
        <Box key={instrument} sx={{ pt: 1 }}>
          <strong>
            {capital(instrument)}: {note} is {stopWords(notes.find((one) => onString(one) === note)?.stop)}
          </strong>
          <Box>Thumb: {thumb.charAt(0).toLowerCase() + thumb.slice(1)}</Box>
          <Box>Fingers: {spacing.charAt(0).toLowerCase() + spacing.slice(1)}</Box>
        </Box>
      ))}
    </Card>
  );
}
