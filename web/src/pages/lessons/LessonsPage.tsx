import { PlaceWithSteps } from '../../parts/place';

const PARTS = [
  ['class', 'The class'],
  ['next', 'Next lesson'],
] as const;

/** What the class is ready for, and the lesson that comes of it. */
export function LessonsPlace() {
  return <PlaceWithSteps name="Lessons" path="lessons" steps={PARTS} />;
}
