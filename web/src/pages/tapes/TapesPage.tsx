import { PageWithParts } from '../../parts/page';

const PARTS = [
  ['bench', 'Bench'],
  ['sheets', 'Templates'],
  ['notes', 'Note map'],
  ['settings', 'How markers lie'],
] as const;

/** Markers on the fingerboards: measured, printed, laid, heard, looked at again, taken away; and what is played where. */
export function TapesPage() {
  return <PageWithParts name="Tapes" path="tapes" steps={PARTS} />;
}
