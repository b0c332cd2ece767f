import { PlaceWithSteps } from '../../parts/place';

const PARTS = [
  ['schools', 'Schools'],
  ['checklist', 'Checklist'],
  ['rhythm', 'Rhythm'],
  ['calendar', 'Calendar'],
  ['file', 'As a file'],
] as const;

/** The class's approach: where teachers disagree, and the checklist with its wording. */
export function ApproachPlace() {
  return <PlaceWithSteps name="Approach" path="approach" steps={PARTS} />;
}
