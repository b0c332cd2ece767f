import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['cards', 'Cards'],
  ['practice', 'Practice week'],
] as const;

/** What goes home this week. */
export function HomePage() {
  return <PageWithParts name="Home" path="home" steps={PARTS} />;
}
