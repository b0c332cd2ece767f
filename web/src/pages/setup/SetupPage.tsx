import { PageWithParts } from '../../parts/page';

const STEPS = [
  ['roster', 'Roster'],
  ['fit', 'Fit'],
  ['instruments', 'Instruments'],
  ['match', 'Match'],
  ['seats', 'Seats'],
  ['supplies', 'Supplies'],
] as const;

/** Setting up a class, in the order of the work. */
export function SetupPage() {
  return <PageWithParts name="Set-up" path="set-up" steps={STEPS} />;
}
