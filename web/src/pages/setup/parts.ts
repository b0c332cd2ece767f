/** The parts of setting up, loaded together when the page is first opened. */
export { FitStep } from './FitStep';
export { ImportStep } from './ImportStep';
export { InstrumentsStep } from './InstrumentsStep';
export { MatchStep } from './MatchStep';
export { RosterStep } from './RosterStep';
export { SeatsStep } from './SeatsStep';
export { SuppliesStep } from './SuppliesStep';
export { SetupPage } from './SetupPage';
export { TagPage } from './TagPage';
