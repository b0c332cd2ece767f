import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['schools', 'Schools'],
  ['checklist', 'Checklist'],
  ['drills', 'Drills'],
  ['rhythm', 'Rhythm'],
  ['calendar', 'Calendar'],
  ['file', 'As a file'],
] as const;

/** The class's approach: where teachers disagree, and the checklist with its wording. */
export function ApproachPage() {
  return <PageWithParts name="Approach" path="approach" steps={PARTS} />;
}
