import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { Card, Callout, PageContent, Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';
import { capital, count, STRANDS, weekdayWords } from '../../words';
import { Names } from './OverviewPart';

type Lesson = Schemas['LessonView'];
type Plan = Schemas['LessonPlan'];
type Block = Schemas['PlannedBlock'];

const NAMES: Record<Block['kind'], string> = {
  setUp: 'Tune and set up',
  drill: 'Drill',
  look: 'Round',
  book: 'Book',
  tune: 'Tune by ear',
};
const AIMS = 3;
const LENGTHS = [20, 30, 40, 60];

/** The next lesson as timed blocks. */
export function LessonPart() {
  const { classId = '' } = useParams();
  const [minutes, setMinutes] = useState<number>();
  const lesson = $api.useQuery(
    'get',
    '/api/classes/{class}/lesson',
    { params: { path: { class: classId }, query: minutes === undefined ? {} : { minutes } } },
    { placeholderData: keepPreviousData },
  );
  return (
    <PageContent name="The next lesson">
      <Read query={lesson} what="The lesson is being put together">
        {(read) => (
          <Edit
            // What was kept, or what is proposed for another length, is begun with anew.
            key={`${read.day ?? ''} ${minutes ?? 0} ${read.minutes} ${JSON.stringify(read.kept)}`}
            classId={classId}
            lesson={read}
            first={minutes === undefined ? (read.kept ?? read.proposed) : read.proposed}
            onMinutes={setMinutes}
          />
        )}
      </Read>
    </PageContent>
  );
}

interface Props {
  classId: string;
  lesson: Lesson;
  first: Plan;
  onMinutes: (minutes: number) => void;
}

function Edit({ classId, lesson, first, onMinutes }: Props) {
  const director = useDirector(classId);
  const [plan, setPlan] = useState<Plan>(first);
  const action = useAction(classId);
  const { day } = lesson;
  const sum = plan.blocks.reduce((all, block) => all + block.minutes, 0);
  const change = (index: number, what: Partial<Block>) =>
    setPlan({
      ...plan,
      blocks: plan.blocks.map((block, at) => (at === index ? { ...block, ...what } : block)),
    });
  const move = (index: number, by: number) => {
    const blocks = [...plan.blocks];
    const [block] = blocks.splice(index, 1);
    if (block) blocks.splice(index + by, 0, block);
    setPlan({ ...plan, blocks });
  };
  const add = (block: Block, aim?: string) =>
    setPlan({
      blocks: [...plan.blocks, block],
      aims: aim && plan.aims.length < AIMS && !plan.aims.includes(aim) ? [...plan.aims, aim] : plan.aims,
    });

  return (
    <Box
      sx={{
        display: 'grid',
        gap: 2,
        maxWidth: 1180,
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 360px' },
      }}
    >
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
          <Typography variant="h2" sx={{ flex: 1, minWidth: 220 }}>
            {day ? weekdayWords(day) : 'No meeting left'}, {count(sum, 'minute')}
          </Typography>
          <Stack
            direction="row"
            spacing={0.75}

            role="group"
            aria-label="Propose a lesson of"
            sx={{ alignItems: 'center' }}
          >
            <span>Propose</span>
            {LENGTHS.map((minutes) => (
              <Button variant="pill" key={minutes} onClick={() => onMinutes(minutes)}>
                {minutes}
              </Button>
            ))}
          </Stack>
          {director && day && (
            <Button
              variant="contained"
              loading={action.busy}
              disabled={JSON.stringify(plan) === JSON.stringify(lesson.kept)}
              onClick={() =>
                void action.run(() =>
                  unwrap(
                    api.PUT('/api/classes/{class}/lessons/{day}', {
                      params: { path: { class: classId, day } },
                      body: { ...plan, aims: plan.aims.filter((aim) => aim.trim() !== '') },
                    }),
                  ),
                )
              }
            >
              Save
            </Button>
          )}
        </Stack>
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <Box
          component="ol"
          aria-label="Blocks"
          sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1 }}
        >
          {plan.blocks.map((block, index) => (
            <li key={`${block.kind} ${block.drill ?? ''} ${index}`}>
              <BlockCard
                classId={classId}
                lesson={lesson}
                block={block}
                onChange={(what) => change(index, what)}
                onUp={index > 0 ? () => move(index, -1) : undefined}
                onDown={index < plan.blocks.length - 1 ? () => move(index, 1) : undefined}
                onRemove={() => setPlan({ ...plan, blocks: plan.blocks.filter((_, at) => at !== index) })}
              />
            </li>
          ))}
        </Box>
        <Box component="section" aria-label="Aims" sx={{ display: 'grid', gap: 1 }}>
          <Typography variant="h2">Aims, as the children say them</Typography>
          {Array.from({ length: Math.min(AIMS, plan.aims.length + 1) }, (_, index) => (
            <TextField
              key={index}
              size="small"
              label={`Aim ${index + 1}`}
              value={plan.aims[index] ?? ''}
              slotProps={{ htmlInput: { maxLength: 120 } }}
              onChange={(event) => {
                const aims = [...plan.aims];
                aims[index] = event.target.value;
                setPlan({ ...plan, aims });
              }}
            />
          ))}
        </Box>
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Card aria-label="What the class is ready for">
          <Typography variant="h3" component="h2">
            What the class is ready for
          </Typography>
          <Box sx={{ display: 'grid', gap: 0.75, pt: 1 }}>
            {(['hold', 'bow', 'frame', 'tape'] as const).map((strand) => {
              const drills = lesson.drills.filter((drill) => drill.strand === strand);
              if (drills.length === 0) return null;
              return (
                <Box
                  key={strand}
                  role="group"
                  aria-label={STRANDS[strand]}
                  sx={{ display: 'grid', gap: 0.75 }}
                >
                  <strong>{STRANDS[strand]}</strong>
                  {drills.map((drill) => (
                    <Stack
                      direction="row"
                      spacing={1}

                      key={drill.id}
                      sx={{ alignItems: 'center' }}
                    >
                      <Button
                        variant="pill"
                        aria-label={`Add ${drill.name}`}
                        onClick={() =>
                          add({ kind: 'drill', minutes: drill.minutes, drill: drill.id }, drill.aim)
                        }
                      >
                        +
                      </Button>
                      <Box sx={{ flex: 1, lineHeight: 1.25 }}>
                        {drill.name}
                        <Box sx={{ color: 'text.secondary' }}>
                          {drill.ready} of {drill.of} ready
                        </Box>
                      </Box>
                    </Stack>
                  ))}
                </Box>
              );
            })}
            <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap' }}>
              {(['setUp', 'look', 'book', 'tune'] as const).map((kind) => (
                <Button
                  variant="pill"
                  key={kind}
                  aria-label={`Add ${NAMES[kind]}`}
                  onClick={() => add({ kind, minutes: 5 })}
                >
                  + {NAMES[kind]}
                </Button>
              ))}
            </Stack>
          </Box>
        </Card>
        <Glances glances={lesson.glances} />
      </Box>
    </Box>
  );
}

interface BlockProps {
  classId: string;
  lesson: Lesson;
  block: Block;
  onChange: (what: Partial<Block>) => void;
  onUp: (() => void) | undefined;
  onDown: (() => void) | undefined;
  onRemove: () => void;
}

function BlockCard({ classId, lesson, block, onChange, onUp, onDown, onRemove }: BlockProps) {
  const drill = lesson.drills.find(({ id }) => id === block.drill);
  const name = drill?.name ?? NAMES[block.kind];
  const known = lesson.tunes.find((tune) => tune.name === block.line);
  return (
    <Card aria-label={name} sx={{ p: 1.5, display: 'grid', gap: 1 }}>
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography variant="h3" sx={{ flex: 1, minWidth: 160 }}>
          {name}
        </Typography>
        <Button
          variant="pill"
          aria-label={`One minute less for ${name}`}
          disabled={block.minutes <= 1}
          onClick={() => onChange({ minutes: block.minutes - 1 })}
        >
          −
        </Button>
        <Box component="output" sx={{ minWidth: 64, textAlign: 'center', fontWeight: 700 }}>
          {block.minutes} min
        </Box>
        <Button
          variant="pill"
          aria-label={`One minute more for ${name}`}
          onClick={() => onChange({ minutes: block.minutes + 1 })}
        >
          +
        </Button>
        <Button variant="pill" aria-label={`${name} earlier`} disabled={!onUp} onClick={onUp}>
          ↑
        </Button>
        <Button variant="pill" aria-label={`${name} later`} disabled={!onDown} onClick={onDown}>
          ↓
        </Button>
        <Button variant="pill" aria-label={`Leave out ${name}`} onClick={onRemove}>
          ×
        </Button>
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

/** What differs on the next instrument, before one shows something to everybody. */
function Glances({ glances }: { glances: Lesson['glances'] }) {
  const names = glances[0]?.notes.map(({ name }) => name) ?? [];
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
            {capital(instrument)}: {note} is{' '}
            {notes.find(({ name }) => name === note)?.finger ?? 'not in first position'}
          </strong>
          <Box>Thumb: {thumb.charAt(0).toLowerCase() + thumb.slice(1)}</Box>
          <Box>Fingers: {spacing.charAt(0).toLowerCase() + spacing.slice(1)}</Box>
        </Box>
      ))}
    </Card>
  );
}
