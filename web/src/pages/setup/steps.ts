/** The steps of setting up, loaded together when the first of them is opened. */
export { FitStep } from './FitStep';
export { ImportStep } from './ImportStep';
export { InstrumentsStep } from './InstrumentsStep';
export { MatchStep } from './MatchStep';
export { RosterStep } from './RosterStep';
export { SeatsStep } from './SeatsStep';
export { SuppliesStep } from './SuppliesStep';
