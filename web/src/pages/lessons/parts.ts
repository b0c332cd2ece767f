/** The parts of the lessons, loaded together when the place is first opened. */
export { Lead } from './Lead';
export { LessonPart } from './LessonPart';
export { LessonsPlace } from './LessonsPlace';
export { ReadingPart } from './ReadingPart';
