import { describe, expect, it } from 'vitest';
import type { NextItem } from '../api/client';
import { nextName, nextWhy, nextWords, speaksWords } from './next';

const item = (change: object): NextItem => ({
  kind: 'checkpoint',
  name: 'Curved thumb',
  help: 'Bend the thumb.',
  why: 'slipped',
  oftenFrom: [],
  ...change,
});

describe('what a child works on next', () => {
  it.each([
    [{}, 'Curved thumb: Bend the thumb.'],
    [
      { kind: 'stage', help: undefined, name: 'Hold 2, Rest' },
      'Hold 2, Rest: Look at the whole stage again.',
    ],
    [
      { kind: 'pain', help: undefined },
      'Curved thumb: Stop here, ask where it hurts, and write down what was done.',
    ],
    [
      { kind: 'tapes', name: undefined, help: undefined, trouble: 'looseOrMissing' },
      'Tapes: Lay the markers again that came off.',
    ],
    [
      { kind: 'tapes', name: undefined, trouble: 'drifted' },
      'Tapes: Prove each marker by ear, then lay it again where it belongs.',
    ],
    [
      { kind: 'tapes', name: undefined, trouble: 'wrongInstrument' },
      'Tapes: Measure this instrument, then lay its own markers.',
    ],
  ])('%o', (change, words) => {
    expect(`${nextName(item(change))}: ${nextWords(item(change))}`).toBe(words);
  });

  it.each([
    [{ why: 'hurts' }, 'The child said that it hurts.'],
    [{ why: 'tapeTrouble' }, 'Until the markers are right, fingers cannot be judged.'],
    [{ why: 'leadsTo', slips: ['Flat fingers'] }, 'Comes first: it leads to flat fingers.'],
    [
      { why: 'leadsTo', slips: ['Flat fingers', 'Squeezed neck', 'Palm up'] },
      'Comes first: it leads to flat fingers, squeezed neck and palm up.',
    ],
    [{ why: 'nextIn', stage: 'Hold 2, Rest' }, 'Next in Hold 2, Rest.'],
    [{ why: 'overdue', meetings: 1 }, 'Was due one meeting ago.'],
    [{ why: 'overdue', meetings: 3 }, 'Was due 3 meetings ago.'],
    [{ why: 'slipped' }, 'Ticked at the last look.'],
  ])('because %o', (change, words) => {
    expect(nextWhy(item(change))).toBe(words);
  });
});

describe('what speaks for a cause', () => {
  it('is the symptoms, then the child, then the instrument', () => {
    const words = speaksWords({ symptoms: ['Buzz', 'Thud'], because: ['says-tight', 'bridge-moved'] });
    expect(words).toBe('Buzz, thud, the child says tight, the bridge leans or has moved');
    expect(speaksWords({ symptoms: [], because: ['ticked-lately'] })).toBe('Ticked lately');
  });
});
