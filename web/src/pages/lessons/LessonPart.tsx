import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { api, basedOn, unwrap, type Schemas } from '../../api/client';
import { $api } from '../../api/queries';
import { Card, PageContent, Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { useAction } from '../../parts/useAction';
import { useDraft } from '../../parts/useDraft';
import { weekdayWords } from '../../words/dates';
import { ReadyDrills } from './ReadyDrills';
import { STRANDS } from '../../words/looks';
import { count } from '../../words/text';
import { NAMES, BlockCard, Glances } from './BlockCard';

type Lesson = Schemas['LessonView'];
type Plan = Schemas['LessonPlan'];
type Block = Schemas['PlannedBlock'];

const MAX_AIMS = 3;
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
            // What is proposed for another length, or another day, is begun with anew.
            key={`${read.day ?? ''} ${minutes ?? 0} ${minutes === undefined ? 0 : read.minutes}`}
            classId={classId}
            lesson={read}
            first={minutes === undefined ? (read.kept ?? read.proposed) : read.proposed}
            onMinutes={setMinutes}
            onKept={() => setMinutes(undefined)}
          />
        )}
      </Read>
    </PageContent>
  );
}

/** What a plan says, for comparing two: its blocks in order, and its aims. */
function says({ blocks, aims }: Plan, { drills }: Lesson): Said[] {
  const name = ({ kind, drill }: Block) =>
    drills.find((one) => one.drill.id === drill)?.drill.name ?? NAMES[kind];
  return [
    ...blocks.map(
      (block, at) =>
        [
          `Block ${at + 1}`,
          `${name(block)}, ${block.minutes} min${block.line && `: ${block.line}`}`,
        ] as const,
    ),
    ...aims.map((aim, at) => [`Aim ${at + 1}`, aim] as const),
  ];
}

interface Props {
  classId: string;
  lesson: Lesson;
  first: Plan;
  onMinutes: (minutes: number) => void;
  onKept: () => void;
}

function Edit({ classId, lesson, first, onMinutes, onKept }: Props) {
  const director = useDirector(classId);
  const draft = useDraft<Plan>(first, lesson.version);
  const { value: plan, change: setPlan } = draft;
  const action = useAction(classId);
  const { day } = lesson;
  const sum = plan.blocks.reduce((all, block) => all + block.minutes, 0);
  const save = async (version: string | undefined) => {
    if (!day) return;
    const saved = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/lessons/{day}', {
          params: { path: { class: classId, day } },
          headers: basedOn(version),
          body: { ...plan, aims: plan.aims.filter((aim) => aim.trim() !== '') },
        }),
      ),
    );
    if (saved) {
      draft.saved(plan);
      onKept();
    }
  };
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
      aims: aim && plan.aims.length < MAX_AIMS && !plan.aims.includes(aim) ? [...plan.aims, aim] : plan.aims,
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
              onClick={() => void save(draft.basedOn)}
            >
              Save
            </Button>
          )}
        </Stack>
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <SavedMeanwhile
          action={action}
          mine={plan}
          says={(one) => says(one, lesson)}
          onMine={(version) => void save(version)}
          onTheirs={() => {
            draft.drop();
            onKept();
          }}
        />
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
          {Array.from({ length: Math.min(MAX_AIMS, plan.aims.length + 1) }, (_, index) => (
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
        <Card aria-label="The projector" sx={{ display: 'grid', gap: 1, justifyItems: 'start' }}>
          <Typography variant="h3" component="h2">
            The projector
          </Typography>
          <Button component={Link} variant="outlined" to={`/class/${classId}/lead`}>
            On the projector
          </Button>
          <Button component={Link} variant="outlined" to={`/class/${classId}/remote`}>
            Phone as remote
          </Button>
        </Card>
        <Card aria-label="What the class is ready for">
          <Typography variant="h3" component="h2">
            What the class is ready for
          </Typography>
          <Box sx={{ display: 'grid', gap: 0.75, pt: 1 }}>
            {(['hold', 'bow', 'frame', 'tape'] as const).map((strand) => {
              const drills = lesson.drills.filter(({ drill }) => drill.strand === strand);
              if (drills.length === 0) return null;
              return (
                <Box
                  key={strand}
                  role="group"
                  aria-label={STRANDS[strand]}
                  sx={{ display: 'grid', gap: 0.75 }}
                >
                  <strong>{STRANDS[strand]}</strong>
                  <ReadyDrills drills={drills} onAdd={add} />
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
