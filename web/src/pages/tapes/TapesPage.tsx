import { PlaceWithSteps } from '../../parts/place';

const PARTS = [
  ['bench', 'Bench'],
  ['sheets', 'Templates'],
  ['notes', 'Note map'],
  ['laying', 'How marks lie'],
] as const;

/** Marks on the fingerboards: measured, printed, laid, heard, looked at again, taken away; and what is played where. */
export function TapesPlace() {
  return <PlaceWithSteps name="Tapes" path="tapes" steps={PARTS} />;
}
