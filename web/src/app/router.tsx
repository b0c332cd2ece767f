import type { ComponentType } from 'react';
import { createBrowserRouter, Navigate, type RouteObject } from 'react-router';
import { Loading } from '../parts/Message';
import { RoomPage } from '../pages/room/RoomPage';
import { Broken } from './Broken';
import { partOf } from './newerBuild';
import { childPanel } from './soon';
import { Start } from './Start';

/** A page, or a part of one, that is loaded when it is opened. */
function page(path: string, Component: () => Promise<ComponentType>, children?: RouteObject[]): RouteObject {
  return { path, lazy: { Component: () => partOf(Component) }, ...(children && { children }) };
}

/** Where the address names no part of a page. */
function first(part: string): RouteObject {
  return { index: true, element: <Navigate to={part} replace /> };
}

const approach = () => import('../pages/approach/parts');
const home = () => import('../pages/home/parts');
const leading = () => import('../pages/lead/parts');
const lessons = () => import('../pages/lessons/parts');
const school = () => import('../pages/school/parts');
const setup = () => import('../pages/setup/parts');
const term = () => import('../pages/term/parts');
const tapes = () => import('../pages/tapes/parts');

/** The pages of one class. The Room comes with the application; the router loads every other page when it is opened. */
const ofClass: RouteObject[] = [
  {
    path: 'room',
    Component: RoomPage,
    children: [page(':childId', async () => (await childPanel()).ChildPanel)],
  },
  page('child/:childId', async () => (await import('../pages/child/ChildPage')).ChildPage),
  page('children/new', async () => (await import('../pages/accounts/NewChildren')).NewChildren),
  page('round', async () => (await import('../pages/round/RoundPage')).RoundPage),
  page('round/term', async () => (await import('../pages/round/TermAhead')).TermAhead),
  page('lessons', async () => (await lessons()).LessonsPage, [
    first('class'),
    page('class', async () => (await lessons()).OverviewPart),
    page('next', async () => (await lessons()).LessonPart),
    page('tuning', async () => (await lessons()).TuningPart),
    page('ear', async () => (await lessons()).EarPart),
  ]),
  page('home', async () => (await home()).HomePage, [
    first('cards'),
    page('cards', async () => (await home()).CardsPart),
    page('back', async () => (await home()).BackPart),
    page('practice', async () => (await home()).PracticePart),
    page('languages', async () => (await home()).WordingPart),
  ]),
  page('term', async () => (await term()).TermPage, [
    first('growth'),
    page('growth', async () => (await term()).GrowthPart),
    page('groups', async () => (await term()).GroupsPart),
    page('waits', async () => (await term()).WaitsPart),
    page('children', async () => (await term()).ChildrenPart),
    page('forecast', async () => (await term()).CamePart),
    page('reports', async () => (await term()).ReportsPart),
    page('new-year', async () => (await term()).NewYearPart),
  ]),
  page('lead', async () => (await leading()).Waiting),
  page('lead/:drillId', async () => (await leading()).Lead),
  page('remote', async () => (await leading()).Remote),
  page('approach', async () => (await approach()).ApproachPage, [
    first('schools'),
    page('schools', async () => (await approach()).SchoolsPart),
    page('checklist', async () => (await approach()).ChecklistPart),
    page('drills', async () => (await approach()).DrillsPart),
    page('rhythm', async () => (await approach()).RhythmPart),
    page('calendar', async () => (await approach()).CalendarPart),
    page('file', async () => (await approach()).FilePart),
  ]),
  page('tapes', async () => (await tapes()).TapesPage, [
    first('bench'),
    page('bench', async () => (await tapes()).BenchPart),
    page('bench/:assetId', async () => (await tapes()).InstrumentPart),
    page('bench/:assetId/place', async () => (await tapes()).PlacingPart),
    page('sheets', async () => (await tapes()).SheetsPart),
    page('notes', async () => (await tapes()).NotesPart),
    page('settings', async () => (await tapes()).MarkerSettingsPart),
  ]),
  page('set-up', async () => (await setup()).SetupPage, [
    first('roster'),
    page('roster', async () => (await setup()).RosterStep),
    page('import', async () => (await setup()).ImportStep),
    page('fit', async () => (await setup()).FitStep),
    page('instruments/:assetId?', async () => (await setup()).InstrumentsStep),
    page('match', async () => (await setup()).MatchStep),
    page('seats', async () => (await setup()).SeatsStep),
    page('supplies', async () => (await setup()).SuppliesStep),
  ]),
];

/** Every address of the application; one that it does not know leads to the first room. */
export const router = createBrowserRouter([
  {
    path: '/',
    Component: Start,
    ErrorBoundary: Broken,
    HydrateFallback: () => <Loading what="Opening" />,
    children: [
      { index: true, lazy: { Component: async () => (await import('./FirstRoom')).FirstRoom } },
      { path: 'class/:classId', children: ofClass },
      page('card/:childId', async () => (await home()).CardPage),
      page('i/:tag', async () => (await setup()).TagPage),
      page('account', async () => (await import('../pages/accounts/AccountPage')).AccountPage),
      page('school/:programId', async () => (await school()).SchoolPage, [
        first('classes'),
        page('classes', async () => (await school()).ClassesPart),
        page('classes/new', async () => (await school()).NewClassPart),
        page('classes/taken', async () => (await school()).TakeOverPart),
        page('people', async () => (await school()).PeoplePart),
        page('keeping', async () => (await school()).KeepingPart),
        page('audit', async () => (await school()).AuditPart),
      ]),
      { path: '*', element: <Navigate to="/" replace /> },
    ],
  },
  // Whoever follows a link need not be signed in.
  page('/invitation', async () => (await import('../pages/accounts/InvitationPage')).InvitationPage),
  page('/new-password', async () => (await import('../pages/accounts/NewPasswordPage')).NewPasswordPage),
]);
