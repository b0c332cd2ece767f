export { BenchPart } from './BenchPart';
export { InstrumentPart } from './InstrumentPart';
export { MarkerSettingsPart } from './MarkerSettingsPart';
export { NotesPart } from './NotesPart';
export { PlacingPart } from './PlacingPart';
export { SheetsPart } from './SheetsPart';
export { TapesPage } from './TapesPage';
