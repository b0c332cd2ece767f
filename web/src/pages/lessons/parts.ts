/** The parts of the lessons, loaded together when the page is first opened. */
export { LessonPart } from './LessonPart';
export { LessonsPage } from './LessonsPage';
export { EarPart } from './EarPart';
export { OverviewPart } from './OverviewPart';
export { TuningPart } from './TuningPart';
