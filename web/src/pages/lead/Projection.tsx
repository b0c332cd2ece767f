import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useNavigate } from 'react-router';
import type { Instrument } from '../../api/client';
import { useKeys } from '../../parts/keys';
import { OneOf } from '../../parts/OneOf';
import { INSTRUMENTS } from '../../words/looks';
import { DRILL_LEVELS } from '../../words/drills';
import { capital } from '../../words/text';
import { Controls } from './Controls';
import type { Conductor, Sounds } from './conductor';
import { StepFigure } from './StepFigure';
import { partAt, syllables, wordOn, type Drill, type Segment } from './program';
import { groupedTexts, REST, roundWords, textFor } from './texts';

/** Read from the back of the room: letters grow with the screen. */
const LARGE = 'clamp(1.2rem, 2.5vw, 3.2rem)';
const MIDDLE = 'clamp(1.1rem, 1.5vw, 1.8rem)';

const Sheet = styled('section')(({ theme }) => ({
  background: theme.vars.palette.background.paper,
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 24px 24px',
  padding: theme.spacing(2),
  display: 'grid',
  gap: theme.spacing(1.5),
  alignContent: 'start',
}));

interface Props {
  classId: string;
  drill: Drill;
  conductor: Conductor;
  sounds: Sounds;
  onSounds: (sounds: Sounds) => void;
  mirrored: boolean;
  onMirror: () => void;
}

/** What the class sees: what each instrument does now, what is said, the count, and small at the side what comes next. */
export function Projection({ classId, drill, conductor, sounds, onSounds, mirrored, onMirror }: Props) {
  const navigate = useNavigate();
  const { program, beat, running, over } = conductor;
  const index = partAt(program, beat);
  const segment = program.segments[index];
  const leave = () => void navigate(`/class/${classId}/lessons/next`);
  const pause = () => (running ? conductor.pause() : conductor.start());
  useKeys({
    ArrowRight: conductor.next,
    PageDown: conductor.next,
    ArrowLeft: conductor.previous,
    PageUp: conductor.previous,
    ' ': pause,
    p: pause,
    a: conductor.again,
    r: conductor.nextRound,
    t: conductor.tap,
    '+': () => conductor.setTempo(conductor.tempo + 4),
    '-': () => conductor.setTempo(conductor.tempo - 4),
    m: onMirror,
    Escape: leave,
  });

  return (
    <>
      <Stack
        direction="row"
        component="header"
        sx={{ flexWrap: 'wrap', alignItems: 'baseline', columnGap: 3, rowGap: 0.5 }}
      >
        <Typography variant="h1" sx={{ fontSize: 'clamp(1.8rem, 3vw, 3rem)' }}>
          {drill.name}
        </Typography>
        <Box sx={{ fontSize: MIDDLE, flex: 1, minWidth: 200 }}>“{drill.aim}”</Box>
        {drill.levels && drill.levels.length > 0 && (
          <OneOf
            name="How it is played"
            value={conductor.level}
            options={drill.levels.map((level) => [level, DRILL_LEVELS[level]] as const)}
            onChoose={conductor.setLevel}
          />
        )}
        <Box sx={{ fontSize: MIDDLE }}>{roundWords(drill, segment)}</Box>
      </Stack>
      <Box
        sx={{
          minHeight: 0,
          display: 'grid',
          gap: 1.5,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 1fr) minmax(180px, 15vw)' },
          gridTemplateRows: { xs: 'minmax(0, 1fr) auto', md: 'minmax(0, 1fr)' },
        }}
      >
        {over || segment?.kind === 'rest' ? (
          <Pause over={over} />
        ) : (
          <Now classId={classId} drill={drill} segment={segment} mirrored={mirrored} />
        )}
        <Next drill={drill} segment={over ? undefined : program.segments[index + 1]} />
      </Box>
      <Box>
        <Words drill={drill} segment={over ? undefined : segment} beat={beat} />
        <Controls
          conductor={conductor}
          segment={segment}
          sounds={sounds}
          onSounds={onSounds}
          mirrored={mirrored}
          onMirror={onMirror}
          onLeave={leave}
        />
      </Box>
    </>
  );
}

/** What each instrument does; said once where it is the same for everybody. */
function Now({
  classId,
  drill,
  segment,
  mirrored,
}: {
  classId: string;
  drill: Drill;
  segment: Segment | undefined;
  mirrored: boolean;
}) {
  const figure = (instrument: Instrument) => (
    <StepFigure
      key={instrument}
      classId={classId}
      drill={drill}
      segment={segment}
      instrument={instrument}
      mirrored={mirrored}
    />
  );
  const [first, ...others] = groupedTexts(drill, segment);
  if (first && others.length === 0) {
    return (
      // On a phone it scrolls, so the keyboard can reach it.
      <Sheet tabIndex={0} aria-label={first[0]} sx={{ alignContent: 'center', overflow: 'auto' }}>
        <Stack
          direction="row"
          // Two and two on a phone.
          sx={{
            flexWrap: { xs: 'wrap', md: 'nowrap' },
            '& > *': { flex: { xs: '1 1 45%', md: 1 }, minWidth: 0 },
          }}
        >
          {INSTRUMENTS.map((instrument) => (
            <Box key={instrument}>
              {figure(instrument)}
              <Box sx={{ textAlign: 'center', color: 'text.secondary' }}>{capital(instrument)}</Box>
            </Box>
          ))}
        </Stack>
        <Typography
          sx={{ fontSize: 'clamp(1.6rem, 4vw, 5rem)', lineHeight: 1.2, textAlign: 'center', px: 2 }}
        >
          {first[1]}
        </Typography>
      </Sheet>
    );
  }
  return (
    <Box
      tabIndex={0}
      role="region"
      aria-label="On each instrument"
      sx={{
        minHeight: 0,
        overflow: 'auto',
        display: 'grid',
        gap: 1.5,
        gridTemplateColumns: { xs: 'repeat(2, minmax(0, 1fr))', md: 'repeat(4, minmax(0, 1fr))' },
      }}
    >
      {INSTRUMENTS.map((instrument) => (
        <Sheet key={instrument} aria-label={capital(instrument)}>
          <Typography variant="h2">{capital(instrument)}</Typography>
          {figure(instrument)}
          <Typography sx={{ fontSize: LARGE, lineHeight: 1.25 }}>
            {textFor(drill, segment, instrument)}
          </Typography>
        </Sheet>
      ))}
    </Box>
  );
}

function Pause({ over }: { over: boolean }) {
  return (
    <Box role="alert" sx={{ display: 'grid', placeContent: 'center', textAlign: 'center', gap: 2 }}>
      <Typography variant="h1" component="p" sx={{ fontSize: 'clamp(3rem, 8vw, 8rem)' }}>
        {over ? 'Done' : 'Rest'}
      </Typography>
      <Typography sx={{ fontSize: 'clamp(1.4rem, 3vw, 3rem)' }}>{REST}. Whatever hurts, tell us.</Typography>
    </Box>
  );
}

/** Small at the side: what comes next. */
function Next({ drill, segment }: { drill: Drill; segment: Segment | undefined }) {
  return (
    <Box
      component="aside"
      aria-label="What comes next"
      // On a phone what is done now has the room.
      sx={{
        display: { xs: 'none', md: 'block' },
        overflow: 'auto',
        fontSize: 'clamp(1rem, 1.15vw, 1.4rem)',
        lineHeight: 1.3,
      }}
    >
      <Box sx={{ fontWeight: 700 }}>Next</Box>
      {segment ? (
        groupedTexts(drill, segment).map(([who, text]) => (
          <Box key={who} sx={{ pt: 0.75 }}>
            {who !== 'Everybody' && <Box sx={{ color: 'text.secondary' }}>{who}</Box>}
            {text}
          </Box>
        ))
      ) : (
        <Box sx={{ pt: 0.75 }}>The end</Box>
      )}
    </Box>
  );
}

/** Words that everybody says, the one of this beat large. */
function Words({ drill, segment, beat }: { drill: Drill; segment: Segment | undefined; beat: number }) {
  const step = segment?.step === undefined ? undefined : drill.steps[segment.step];
  const say = step?.say ?? [];
  if (!segment || say.length === 0) return null;
  const now = wordOn(say, beat - segment.firstBeat);
  return (
    <Stack
      direction="row"
      aria-label="Say"
      role="group"
      sx={{ justifyContent: 'center', alignItems: 'baseline', columnGap: '0.8em', fontSize: LARGE, pb: 1 }}
    >
      {say.map((word, index) => (
        <Box
          key={index}
          component="span"
          aria-current={index === now ? 'true' : undefined}
          sx={
            index === now
              ? { fontSize: '1.7em', fontWeight: 700, color: 'primary.main' }
              : { color: 'text.secondary' }
          }
        >
          {syllables(word).join('·')}
        </Box>
      ))}
    </Stack>
  );
}
