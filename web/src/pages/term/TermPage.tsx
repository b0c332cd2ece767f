import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['growth', 'Growth'],
  ['groups', 'Where it waits'],
  ['waits', 'Waits and slips'],
  ['children', 'Children'],
  ['forecast', 'Said and came'],
  ['reports', 'Reports'],
  ['new-year', 'New year'],
] as const;

/** How the class grew. */
export function TermPage() {
  return <PageWithParts name="Term" path="term" steps={PARTS} />;
}
