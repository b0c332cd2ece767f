export { CamePart } from './CamePart';
export { ChildrenPart } from './ChildrenPart';
export { GroupsPart } from './GroupsPart';
export { GrowthPart } from './GrowthPart';
export { NewYearPart } from './NewYearPart';
export { ReportsPart } from './ReportsPart';
export { TermPage } from './TermPage';
export { WaitsPart } from './WaitsPart';
