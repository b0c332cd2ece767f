import Alert from '@mui/material/Alert';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { useCallback, useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import type { LeadSignal } from '../../api/live';
import { $api, ofClass } from '../../api/queries';
import { useCore } from '../../core/door';
import { OneOf } from '../../parts/OneOf';
import { Card, PageContent, Read } from '../../parts/page';
import { DRILL_LEVELS } from '../../words/drills';
import { partAt, programOf, withinTempo, type Drill } from './program';
import { useSignals, type Saying } from './signals';
import { groupedTexts, roundWords } from './texts';

type Lesson = Schemas['LessonView'];

/** So long a projector that is there takes to answer at most, in milliseconds. */
const ANSWERS_WITHIN = 4000;

/** A phone that steers the page on the projector, signed in under the same account. */
export function Remote() {
  const { classId = '' } = useParams();
  const lesson = $api.useQuery('get', '/api/classes/{class}/lesson', ofClass(classId));
  const [state, setState] = useState<LeadSignal>();
  const [silent, setSilent] = useState(false);
  const hear = useCallback((signal: LeadSignal) => {
    if (signal.action !== 'state') return;
    setState(signal);
    setSilent(false);
  }, []);
  const say = useSignals(classId, hear);
  useEffect(() => {
    say({ action: 'ask' });
    const timer = window.setTimeout(() => setSilent(true), ANSWERS_WITHIN);
    return () => window.clearTimeout(timer);
  }, [say]);
  return (
    <PageContent name="Remote for the projector">
      <Read query={lesson} what="The drills are being read">
        {(read) => {
          const led = read.drills.find(({ drill }) => drill.id === state?.drill)?.drill;
          return (
            <Box sx={{ display: 'grid', gap: 2, maxWidth: 560 }}>
              {led && state ? (
                <Steering drill={led} state={state} say={say} />
              ) : silent ? (
                <Alert severity="info">
                  No projector has answered. On the computer at the projector, signed in as here, open
                  Lessons, Next lesson, On the projector; then choose a drill below.
                </Alert>
              ) : (
                <Typography>Looking for the page on the projector …</Typography>
              )}
              <Choice classId={classId} lesson={read} led={led?.id} say={say} />
            </Box>
          );
        }}
      </Read>
    </PageContent>
  );
}

interface SteeringProps {
  drill: Drill;
  state: LeadSignal;
  say: (what: Saying) => void;
}

function Steering({ drill, state, say }: SteeringProps) {
  useCore();
  const tempo = state.tempo ?? drill.tempo;
  const program = programOf(drill, state.level, tempo);
  const beat = state.beat ?? 0;
  const over = beat >= program.beats;
  const segment = over ? undefined : program.segments[partAt(program, beat)];
  const tell = (action: Saying['action'], more: Partial<Saying> = {}) => say({ action, ...more });
  return (
    <Card aria-label={drill.name} sx={{ p: 2, display: 'grid', gap: 1.5 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', columnGap: 2, flexWrap: 'wrap' }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {drill.name}
        </Typography>
        <Box>{over ? 'Done' : roundWords(drill, segment)}</Box>
      </Stack>
      <Box sx={{ minHeight: '5.2em', lineHeight: 1.3 }} role="status" aria-label="Now">
        {!over &&
          groupedTexts(drill, segment).map(([who, text]) => (
            <Box key={who}>
              {who !== 'Everybody' && <strong>{who}: </strong>}
              {text}
            </Box>
          ))}
      </Box>
      <Button
        variant="contained"
        size="large"
        sx={{ minHeight: 72, fontSize: '1.5rem' }}
        onClick={() => tell(state.running ? 'pause' : 'start')}
      >
        {state.running ? 'Pause' : over ? 'Once more' : 'Start'}
      </Button>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, '& button': { minHeight: 60 } }}>
        <Button variant="outlined" onClick={() => tell('previous')}>
          ← Previous
        </Button>
        <Button variant="outlined" disabled={over} onClick={() => tell('next')}>
          Next →
        </Button>
        <Button variant="outlined" onClick={() => tell('again')}>
          Again
        </Button>
        <Button variant="outlined" disabled={over} onClick={() => tell('round')}>
          Next round
        </Button>
      </Box>
      <Stack direction="row" role="group" aria-label="Tempo" spacing={1} sx={{ alignItems: 'center' }}>
        <IconButton aria-label="Slower" onClick={() => tell('tempo', { tempo: withinTempo(tempo - 4) })}>
          −
        </IconButton>
        <Box component="output" sx={{ flex: 1, textAlign: 'center' }}>
          <strong>{tempo}</strong> beats a minute
        </Box>
        <IconButton aria-label="Faster" onClick={() => tell('tempo', { tempo: withinTempo(tempo + 4) })}>
          +
        </IconButton>
        <Button variant="outlined" onClick={() => tell('mirror')}>
          Mirror
        </Button>
      </Stack>
      {drill.levels && drill.levels.length > 0 && (
        <OneOf
          name="How it is played"
          value={state.level}
          options={drill.levels.map((level) => [level, DRILL_LEVELS[level]] as const)}
          onChoose={(level) => tell('level', { level })}
        />
      )}
    </Card>
  );
}

interface ChoiceProps {
  classId: string;
  lesson: Lesson;
  led: string | undefined;
  say: (what: Saying) => void;
}

/** The drills of the lesson first, then all others. */
function Choice({ classId, lesson, led, say }: ChoiceProps) {
  const planned = (lesson.kept ?? lesson.proposed).blocks.map(({ drill }) => drill);
  const all = lesson.drills.map(({ drill }) => drill);
  const [today, others] = [true, false].map((is) => all.filter(({ id }) => planned.includes(id) === is));
  const button = ({ id, name }: Drill) => (
    <Button
      key={id}
      variant="outlined"
      aria-pressed={id === led}
      sx={{ justifyContent: 'start', minHeight: 52 }}
      onClick={() => say({ action: 'open', drill: id })}
    >
      {name}
    </Button>
  );
  return (
    <>
      <Box component="section" aria-label="In this lesson" sx={{ display: 'grid', gap: 0.75 }}>
        <Typography variant="h3" component="h2">
          In this lesson
        </Typography>
        {today && today.length > 0 ? today.map(button) : <Box>No drill is planned.</Box>}
      </Box>
      <Box component="details">
        <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
          All other drills
        </Box>
        <Box sx={{ display: 'grid', gap: 0.75 }}>{others?.map(button)}</Box>
      </Box>
      <Button component={Link} to={`/class/${classId}/lessons/next`} sx={{ justifySelf: 'start' }}>
        To the lesson
      </Button>
    </>
  );
}
