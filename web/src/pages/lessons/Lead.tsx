import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { useKeys } from '../../parts/keys';
import { Read } from '../../parts/page';
import { capital } from '../../words/text';
import { Hands } from './Hands';

type Drill = Schemas['DrillView'];

/** A beat, in milliseconds: a calm walk. */
const BEAT = 1000;

/** Over everything, for a projector: no name of a child is on it. */
const Wall = styled('div')(({ theme }) => ({
  position: 'fixed',
  inset: 0,
  zIndex: theme.zIndex.modal,
  display: 'grid',
  gridTemplateRows: 'auto minmax(0, 1fr) auto',
  gap: theme.spacing(1.5),
  padding: theme.spacing(2),
  background: theme.vars.palette.background.default,
}));

/** One block before the class: the four instruments side by side, step by step with a count. */
export function Lead() {
  const { classId = '', drillId = '' } = useParams();
  const lesson = $api.useQuery('get', '/api/classes/{class}/lesson', ofClass(classId));
  return (
    <Wall>
      <Read query={lesson} what="The drill is being put up">
        {(read) => {
          const drill = read.drills.find(({ id }) => id === drillId);
          return drill ? (
            <Steps classId={classId} drill={drill} restAfter={read.restAfterSeconds} />
          ) : (
            <Typography>There is no such drill any more. Choose one under Lessons, Next lesson.</Typography>
          );
        }}
      </Read>
    </Wall>
  );
}

function Steps({ classId, drill, restAfter }: { classId: string; drill: Drill; restAfter: number }) {
  const navigate = useNavigate();
  const [index, setIndex] = useState(0);
  const [beat, setBeat] = useState(0);
  const [running, setRunning] = useState(false);
  const [mirrored, setMirrored] = useState(false);
  const [loaded, setLoaded] = useState(0);
  const step = drill.steps[index];
  const resting = drill.load && loaded >= restAfter;

  useEffect(() => {
    if (!running || resting) return;
    const timer = window.setInterval(() => {
      setBeat((now) => now + 1);
      setLoaded((now) => now + 1);
    }, BEAT);
    return () => window.clearInterval(timer);
  }, [running, resting]);

  const go = (to: number) => {
    setIndex(Math.min(drill.steps.length - 1, Math.max(0, to)));
    setBeat(0);
  };
  const last = index === drill.steps.length - 1;
  // The count of a step is over: the next one, or the end.
  if (step && beat > step.count) {
    if (last) {
      setRunning(false);
      setBeat(0);
    } else go(index + 1);
  }
  const leave = () => void navigate(`/class/${classId}/lessons/next`);
  const pause = () => (resting ? setLoaded(0) : setRunning(!running));
  useKeys({
    ArrowRight: () => go(index + 1),
    ArrowLeft: () => go(index - 1),
    ' ': pause,
    p: pause,
    m: () => setMirrored(!mirrored),
    Escape: leave,
  });

  return (
    <>
      <Stack
        direction="row"
        component="header"
        sx={{ flexWrap: 'wrap', alignItems: 'baseline', columnGap: 3 }}
      >
        <Typography variant="h1" sx={{ fontSize: 'clamp(1.8rem, 3vw, 3rem)' }}>
          {drill.name}
        </Typography>
        <Box sx={{ fontSize: 'clamp(1.2rem, 2vw, 2rem)', flex: 1 }}>“{drill.aim}”</Box>
        <Box sx={{ fontSize: 'clamp(1.2rem, 2vw, 2rem)' }}>
          Step {index + 1} of {drill.steps.length}
        </Box>
      </Stack>
      {resting ? (
        <Box role="alert" sx={{ display: 'grid', placeContent: 'center', textAlign: 'center', gap: 2 }}>
          <Typography variant="h1" component="p" sx={{ fontSize: 'clamp(3rem, 8vw, 8rem)' }}>
            Rest
          </Typography>
          <Typography sx={{ fontSize: 'clamp(1.4rem, 3vw, 3rem)' }}>
            Everything down, shake out both hands. Whatever hurts, tell us.
          </Typography>
        </Box>
      ) : (
        <Box
          sx={{
            minHeight: 0,
            overflow: 'auto',
            display: 'grid',
            gap: 1.5,
            gridTemplateColumns: { xs: 'repeat(2, minmax(0, 1fr))', md: 'repeat(4, minmax(0, 1fr))' },
          }}
        >
          {step?.texts.map(({ instrument, text }) => (
            <Box
              key={instrument}
              component="section"
              aria-label={capital(instrument)}
              sx={{
                bgcolor: 'background.paper',
                border: 1,
                borderColor: 'divider',
                borderRadius: '6px 6px 24px 24px',
                p: 2,
                display: 'grid',
                gap: 1.5,
                alignContent: 'start',
              }}
            >
              <Typography variant="h2">{capital(instrument)}</Typography>
              <Hands instrument={instrument} mirrored={mirrored} />
              <Box sx={{ fontSize: 'clamp(1.2rem, 2.1vw, 2.3rem)', lineHeight: 1.25 }}>{text}</Box>
            </Box>
          ))}
        </Box>
      )}
      <Stack direction="row" spacing={1} component="footer" sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Box
          role="status"
          aria-label="Count"
          sx={{ fontSize: 'clamp(2rem, 5vw, 5rem)', fontWeight: 700, minWidth: '2.2em', lineHeight: 1 }}
        >
          {beat > 0 ? beat : '–'}
          <Box component="span" sx={{ fontSize: '0.4em', fontWeight: 400 }}>
            {' '}
            of {step?.count}
          </Box>
        </Box>
        <Box sx={{ flex: 1 }} />
        <Button
          variant="outlined"
          aria-keyshortcuts="ArrowLeft"
          disabled={index === 0}
          onClick={() => go(index - 1)}
        >
          ← Back
        </Button>
        <Button variant="contained" aria-keyshortcuts="p" onClick={pause}>
          {resting ? 'Go on' : running ? 'Pause' : 'Count'}&ensp;P
        </Button>
        <Button
          variant="outlined"
          aria-keyshortcuts="ArrowRight"
          disabled={last}
          onClick={() => go(index + 1)}
        >
          Next →
        </Button>
        <Button
          variant="outlined"
          aria-pressed={mirrored}
          aria-keyshortcuts="m"
          onClick={() => setMirrored(!mirrored)}
        >
          Mirror&ensp;M
        </Button>
        <Button variant="outlined" aria-keyshortcuts="Escape" onClick={leave}>
          Leave&ensp;Esc
        </Button>
      </Stack>
    </>
  );
}
