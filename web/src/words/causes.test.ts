import { expect, test } from 'vitest';
import { againstWords, leadsWords, speaksWords } from './causes';

test('what speaks for a cause is the symptoms, then what was answered, the child and the instrument', () => {
  const words = speaksWords({
    symptoms: ['Buzz', 'Thud'],
    because: ['stopped', 'says-tight', 'bridge-moved'],
  });
  expect(words).toBe(
    'Buzz, thud, a stopped note, the child said that it is tight or hurts, the bridge leans or has moved',
  );
  expect(speaksWords({ symptoms: [], because: ['ticked-lately'] })).toBe('Ticked lately');
});

test('what speaks against it, and why it is named first, are sentences of their own', () => {
  expect(againstWords(['tapes-proved', 'size-fits'])).toBe(
    'Against it: markers proved by ear and the size that the measures propose',
  );
  expect(leadsWords(['Bow away from midway'])).toBe('Often leads to: bow away from midway');
});
