import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['class', 'The class'],
  ['next', 'Next lesson'],
  ['tuning', 'Tuning'],
  ['ear', 'Train the ear'],
] as const;

/** What the class is ready for, and the lesson that comes of it. */
export function LessonsPage() {
  return <PageWithParts name="Lessons" path="lessons" steps={PARTS} />;
}
