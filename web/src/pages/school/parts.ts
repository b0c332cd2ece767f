export { AuditPart } from './AuditPart';
export { ClassesPart, NewClassPart } from './ClassesPart';
export { KeepingPart } from './KeepingPart';
export { PeoplePart } from './PeoplePart';
export { SchoolPage } from './SchoolPage';
export { TakeOverPart } from './TakeOver';
