export { BenchPart } from './BenchPart';
export { InstrumentPart } from './InstrumentPart';
export { LayingPart } from './LayingPart';
export { NotesPart } from './NotesPart';
export { PlacingPart } from './PlacingPart';
export { SheetsPart } from './SheetsPart';
export { TapesPlace } from './TapesPlace';
