export { CalendarPart } from './CalendarPart';
/** The parts of the approach, loaded together when the page is first opened. */
export { ApproachPage } from './ApproachPage';
export { ChecklistPart } from './ChecklistPart';
export { DrillsPart } from './DrillsPart';
export { FilePart } from './FilePart';
export { RhythmPart } from './RhythmPart';
export { SchoolsPart } from './SchoolsPart';
