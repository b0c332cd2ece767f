import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Instrument, RoomChild, Schemas } from '../../api/client';
import { roomQuery, rulesQuery } from '../../api/queries';
import { Ear } from '../../parts/Ear';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { Callout, Card, PageContent, Read } from '../../parts/page';
import { letterOf } from '../../words/markers';
import { TUNING_CAUTION } from '../../words/listening';
import { capital, count } from '../../words/text';
import { useTuned } from './tuned';

type Tuned = Schemas['TunedStrings'];

/** Milliseconds that a child's four strings are shown in tune before the next one comes. */
const PAUSE = 2_000;

/** By rows and seats, as one walks; those without a seat last. */
function inOrder(children: readonly RoomChild[]): RoomChild[] {
  const place = ({ seat }: RoomChild) => (seat ? seat.row * 1_000 + seat.seat : Infinity);
  return children.toSorted((a, b) => {
    const [first, second] = [place(a), place(b)];
    return first === second ? a.name.localeCompare(b.name) : first - second;
  });
}

/** The whole class's tuning, one child after the other: who is done, and who comes next by itself. */
export function TuningPart() {
  const { classId = '' } = useParams();
  const room = useQuery(roomQuery(classId));
  const rules = useQuery(rulesQuery(classId));
  return (
    <Read query={room} what="The class is being fetched">
      {({ children }) => (
        <Read query={rules} what="The strings are being fetched">
          {({ strings }) =>
            children.length === 0 ? (
              <PageContent name="Tuning">
                <Typography>Nobody is in the class yet, so there is nothing to tune.</Typography>
              </PageContent>
            ) : (
              <Walk classId={classId} everybody={inOrder(children)} strings={strings} />
            )
          }
        </Read>
      )}
    </Read>
  );
}

interface WalkProps {
  classId: string;
  everybody: RoomChild[];
  strings: Tuned[];
}

function Walk({ classId, everybody, strings }: WalkProps) {
  const { done, tune, again, afresh } = useTuned(classId);
  const [only, setOnly] = useState<Instrument>();
  const shown = everybody.filter(({ instrument }) => only === undefined || instrument === only);
  const [chosen, setChosen] = useState<string>();
  const [passed, setPassed] = useState<string[]>([]);
  const left = shown.filter(({ id }) => !done.has(id));
  // Who was passed over comes once more at the end.
  const now =
    left.find(({ id }) => id === chosen) ??
    left.find(({ id }) => !passed.includes(id)) ??
    left[0] ??
    undefined;
  const tuned = shown.length - left.length;
  // The next child comes a moment after all four are in tune.
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const go = (on: () => void) => {
    window.clearTimeout(timer.current);
    on();
    setChosen(undefined);
  };
  return (
    <PageContent
      name="Tuning"
      bar={
        <>
          <Typography variant="h2" sx={{ flex: 1, minWidth: 180 }}>
            <span role="status">
              {tuned} of {shown.length} in tune
            </span>
          </Typography>
          <InstrumentChips only={only} onOnly={setOnly} />
        </>
      }
    >
      <Box
        sx={{
          display: 'grid',
          gap: 2,
          maxWidth: 1180,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 320px' },
          alignItems: 'start',
        }}
      >
        {now ? (
          <Card aria-label={`Tuning now: ${now.name}`} sx={{ display: 'grid', gap: 1.5 }}>
            <Box>
              <Typography variant="h1" component="h2">
                {now.name}
              </Typography>
              <Typography sx={{ color: 'text.secondary' }}>
                {now.instrument}
                {now.seat ? `, row ${now.seat.row}, seat ${now.seat.seat}` : ', no seat'}
              </Typography>
            </Box>
            <ChildsEar
              child={now}
              strings={strings}
              onAll={() => {
                window.clearTimeout(timer.current);
                timer.current = window.setTimeout(() => go(() => tune(now.id)), PAUSE);
              }}
            />
            <Stack direction="row" spacing={1}>
              <Button
                variant="outlined"
                size="large"
                sx={{ minHeight: 56 }}
                onClick={() => go(() => setPassed([...passed.filter((id) => id !== now.id), now.id]))}
              >
                Later
              </Button>
              <Button
                variant="contained"
                size="large"
                sx={{ flex: 1, minHeight: 56 }}
                onClick={() => go(() => tune(now.id))}
              >
                In tune, next
              </Button>
            </Stack>
            <Typography sx={{ color: 'text.secondary' }}>{TUNING_CAUTION[now.instrument]}</Typography>
          </Card>
        ) : (
          <Callout>
            {only ? `Every ${only} is in tune.` : 'Everybody is in tune.'} Begin.{' '}
            <Button onClick={afresh}>Tune afresh</Button>
          </Callout>
        )}
        <Card aria-label="Who is done" sx={{ display: 'grid', gap: 1 }}>
          <Typography variant="h3" component="h2">
            {left.length === 0 ? 'All done' : `${count(left.length, 'child', 'children')} to go`}
          </Typography>
          <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 0.5 }}>
            {shown.map(({ id, name, instrument }) => (
              <li key={id}>
                <Button
                  fullWidth
                  aria-current={id === now?.id}
                  variant={id === now?.id ? 'contained' : 'text'}
                  sx={{ justifyContent: 'flex-start', minHeight: 44, textAlign: 'left' }}
                  onClick={() => {
                    window.clearTimeout(timer.current);
                    if (done.has(id)) again(id);
                    setChosen(id);
                  }}
                >
                  {done.has(id) ? '✓ ' : ''}
                  {name}, {instrument}
                </Button>
              </li>
            ))}
          </Box>
          <Typography sx={{ color: 'text.secondary' }}>
            Kept while this page is open, not recorded. A of the class:{' '}
            <Link to={`/class/${classId}/tapes/settings`}>{aOf(strings)} Hz</Link>
          </Typography>
        </Card>
      </Box>
    </PageContent>
  );
}

/** The A4 of the class: the violin's third string. */
function aOf(strings: Tuned[]): string {
  const violin = strings.find(({ instrument }) => instrument === 'violin');
  return (violin?.strings.find(({ note }) => letterOf(note) === 'A')?.hz ?? 440).toFixed(0);
}

function ChildsEar({ child, strings, onAll }: { child: RoomChild; strings: Tuned[]; onAll: () => void }) {
  const tuned = strings.find(({ instrument }) => instrument === child.instrument)?.strings ?? [];
  return (
    <Ear
      instrument={child.instrument}
      strings={tuned.map(({ note, hz }) => ({ letter: letterOf(note), hz }))}
      toneSounds={false}
      onListen={() => undefined}
      allWords={`${capital(child.instrument)} in tune: the next child.`}
      onAll={onAll}
      whose={child.id}
    />
  );
}
