/** The parts of the lessons, loaded together when the page is first opened. */
export { LessonPart } from './LessonPart';
export { LessonsPage } from './LessonsPage';
export { OverviewPart } from './OverviewPart';
