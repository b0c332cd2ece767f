import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['cards', 'Cards'],
  ['back', 'Back again'],
  ['practice', 'Practice week'],
  ['languages', 'Languages'],
] as const;

/** What goes home this week. */
export function HomePage() {
  return <PageWithParts name="Home" path="home" steps={PARTS} />;
}
