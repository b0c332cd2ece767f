import Alert from '@mui/material/Alert';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClientProvider, useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useMatch } from 'react-router';
import { api, unwrap, type Session } from '../api/client';
import { classesQuery, queryClient, sessionQuery } from '../api/queries';
import { forgetAnswers } from '../offline/cachedAnswers';
import { waitingOf } from '../offline/store';
import { outboxesOf } from '../offline/useOutbox';
import { Frame } from './AppShell';
import { Failed, Loading } from '../parts/Message';
import { ChildPanel } from '../pages/child/ChildPanel';
import { RoomPage } from '../pages/room/RoomPage';
import { theme } from '../theme';
import { count } from '../words';

// What is seen once or rarely is loaded when it is opened; the Room comes first.
const SignInPage = lazy(() =>
  import('../pages/accounts/SignInPage').then((module) => ({ default: module.SignInPage })),
);
const SignInOver = lazy(() =>
  import('../pages/accounts/SignInPage').then((module) => ({ default: module.SignInOver })),
);
const NewClass = lazy(() =>
  import('../pages/accounts/NewClass').then((module) => ({ default: module.NewClass })),
);
const SetupPage = lazy(() =>
  import('../pages/setup/SetupPage').then((module) => ({ default: module.SetupPage })),
);
const ChildPage = lazy(() =>
  import('../pages/child/ChildPage').then((module) => ({ default: module.ChildPage })),
);
const approach = () => import('../pages/approach/parts');
const TermAhead = lazy(() =>
  import('../pages/round/TermAhead').then((module) => ({ default: module.TermAhead })),
);
const CalendarPart = lazy(() => approach().then((module) => ({ default: module.CalendarPart })));
const RoundPage = lazy(() =>
  import('../pages/round/RoundPage').then((module) => ({ default: module.RoundPage })),
);
const lessons = () => import('../pages/lessons/parts');
const LessonsPage = lazy(() => lessons().then((module) => ({ default: module.LessonsPage })));
const OverviewPart = lazy(() => lessons().then((module) => ({ default: module.OverviewPart })));
const LessonPart = lazy(() => lessons().then((module) => ({ default: module.LessonPart })));
const Lead = lazy(() => lessons().then((module) => ({ default: module.Lead })));
const ApproachPage = lazy(() => approach().then((module) => ({ default: module.ApproachPage })));
const SchoolsPart = lazy(() => approach().then((module) => ({ default: module.SchoolsPart })));
const ChecklistPart = lazy(() => approach().then((module) => ({ default: module.ChecklistPart })));
const RhythmPart = lazy(() => approach().then((module) => ({ default: module.RhythmPart })));
const FilePart = lazy(() => approach().then((module) => ({ default: module.FilePart })));
const tapes = () => import('../pages/tapes/parts');
const TapesPage = lazy(() => tapes().then((module) => ({ default: module.TapesPage })));
const BenchPart = lazy(() => tapes().then((module) => ({ default: module.BenchPart })));
const InstrumentPart = lazy(() => tapes().then((module) => ({ default: module.InstrumentPart })));
const PlacingPart = lazy(() => tapes().then((module) => ({ default: module.PlacingPart })));
const SheetsPart = lazy(() => tapes().then((module) => ({ default: module.SheetsPart })));
const NotesPart = lazy(() => tapes().then((module) => ({ default: module.NotesPart })));
const MarkerSettingsPart = lazy(() => tapes().then((module) => ({ default: module.MarkerSettingsPart })));
const setup = () => import('../pages/setup/steps');
const RosterStep = lazy(() => setup().then((module) => ({ default: module.RosterStep })));
const ImportStep = lazy(() => setup().then((module) => ({ default: module.ImportStep })));
const FitStep = lazy(() => setup().then((module) => ({ default: module.FitStep })));
const InstrumentsStep = lazy(() => setup().then((module) => ({ default: module.InstrumentsStep })));
const MatchStep = lazy(() => setup().then((module) => ({ default: module.MatchStep })));
const SeatsStep = lazy(() => setup().then((module) => ({ default: module.SeatsStep })));
const SuppliesStep = lazy(() => setup().then((module) => ({ default: module.SuppliesStep })));
const NewChildren = lazy(() =>
  import('../pages/accounts/NewChildren').then((module) => ({ default: module.NewChildren })),
);

/** Ends the session, and with it everything this device knows but what is still on its way. */
async function signOut(): Promise<void> {
  await unwrap(api.DELETE('/api/session'));
  await outboxesOf(undefined);
  await forgetAnswers();
  window.location.assign('/');
}

function SignedIn({ session }: { session: Session }) {
  const open = useMatch('/class/:classId/*');
  const [failed, setFailed] = useState(false);
  const ask = async () => {
    const waiting = await waitingOf(session.email).catch(() => 0);
    const question = `${count(waiting, 'observation')} not sent yet. They stay on this device and go on their way when you sign in here again. Sign out?`;
    if (waiting > 0 && !window.confirm(question)) return;
    setFailed(false);
    await signOut().catch(() => setFailed(true));
  };
  return (
    <Frame base={open?.params.classId && `/class/${open.params.classId}`} onSignOut={() => void ask()}>
      {failed && (
        <Alert
          severity="warning"
          variant="outlined"
          onClose={() => setFailed(false)}
          sx={{ color: 'text.primary' }}
        >
          The server does not answer, so you are still signed in. Everything is kept; try again with network.
        </Alert>
      )}
      <Suspense fallback={<Loading what="Opening" />}>
        <Routes>
          <Route path="/" element={<FirstRoom session={session} />} />
          <Route path="/class/:classId/room" element={<RoomPage />}>
            <Route path=":childId" element={<ChildPanel />} />
          </Route>
          <Route path="/class/:classId/child/:childId" element={<ChildPage />} />
          <Route path="/class/:classId/round" element={<RoundPage />} />
          <Route path="/class/:classId/round/term" element={<TermAhead />} />
          <Route path="/class/:classId/lessons" element={<LessonsPage />}>
            <Route index element={<Navigate to="class" replace />} />
            <Route path="class" element={<OverviewPart />} />
            <Route path="next" element={<LessonPart />} />
          </Route>
          <Route path="/class/:classId/lead/:drillId" element={<Lead />} />
          <Route path="/class/:classId/approach" element={<ApproachPage />}>
            <Route index element={<Navigate to="schools" replace />} />
            <Route path="schools" element={<SchoolsPart />} />
            <Route path="checklist" element={<ChecklistPart />} />
            <Route path="rhythm" element={<RhythmPart />} />
            <Route path="calendar" element={<CalendarPart />} />
            <Route path="file" element={<FilePart />} />
          </Route>
          <Route path="/class/:classId/tapes" element={<TapesPage />}>
            <Route index element={<Navigate to="bench" replace />} />
            <Route path="bench" element={<BenchPart />} />
            <Route path="bench/:assetId" element={<InstrumentPart />} />
            <Route path="bench/:assetId/place" element={<PlacingPart />} />
            <Route path="sheets" element={<SheetsPart />} />
            <Route path="notes" element={<NotesPart />} />
            <Route path="settings" element={<MarkerSettingsPart />} />
          </Route>
          <Route path="/class/:classId/children/new" element={<NewChildren />} />
          <Route path="/class/:classId/set-up" element={<SetupPage />}>
            <Route index element={<Navigate to="roster" replace />} />
            <Route path="roster" element={<RosterStep />} />
            <Route path="import" element={<ImportStep />} />
            <Route path="fit" element={<FitStep />} />
            <Route path="instruments/:assetId?" element={<InstrumentsStep />} />
            <Route path="match" element={<MatchStep />} />
            <Route path="seats" element={<SeatsStep />} />
            <Route path="supplies" element={<SuppliesStep />} />
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
    </Frame>
  );
}

/** The room of the first class; without a class, making one. */
function FirstRoom({ session }: { session: Session }) {
  const classes = useQuery(classesQuery);
  if (classes.error && !classes.data)
    return <Failed error={classes.error} onRetry={() => void classes.refetch()} />;
  if (!classes.data) return <Loading what="Opening" />;
  const first = classes.data[0];
  return first ? <Navigate to={`/class/${first.id}/room`} replace /> : <NewClass session={session} />;
}

function Start() {
  const session = useQuery(sessionQuery);
  // Whoever was signed in on this page; when the session ends the page stays as it is, under the sign-in form.
  const [known, setKnown] = useState<Session | null>(null);
  if (session.data && session.data !== known) setKnown(session.data);
  const owner = session.data?.email;
  // While the sign-in form lies over the page, what is on its way waits in it.
  useEffect(() => {
    if (owner !== undefined) void outboxesOf(owner);
  }, [owner]);

  if (session.error && !known) return <Failed error={session.error} onRetry={() => void session.refetch()} />;
  if (session.data === undefined) return <Loading what="Opening" />;
  return (
    <Suspense fallback={<Loading what="Opening" />}>
      {known ? <SignedIn session={known} /> : <SignInPage />}
      {known && session.data === null && <SignInOver />}
    </Suspense>
  );
}

export function App() {
  return (
    <ThemeProvider theme={theme} defaultMode="system" disableTransitionOnChange>
      <CssBaseline />
      <QueryClientProvider client={queryClient}>
        <BrowserRouter>
          <Start />
        </BrowserRouter>
      </QueryClientProvider>
    </ThemeProvider>
  );
}
