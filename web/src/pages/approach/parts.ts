export { CalendarPart } from './CalendarPart';
/** The parts of the approach, loaded together when the place is first opened. */
export { ApproachPlace } from './ApproachPlace';
export { ChecklistPart } from './ChecklistPart';
export { FilePart } from './FilePart';
export { RhythmPart } from './RhythmPart';
export { SchoolsPart } from './SchoolsPart';
