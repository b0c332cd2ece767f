import { describe, expect, it } from 'vitest';
import type { NextItem } from '../api/client';
import { nextName, nextWords, whyWords } from './next';

const item = (change: object): NextItem => ({
  kind: 'checkpoint',
  target: 'bow.thumb',
  name: 'Curved thumb',
  help: 'Bend the thumb.',
  why: 'root',
  slips: [],
  oftenFrom: [],
  stuck: false,
  ...change,
});

describe('what a child works on next', () => {
  it.each([
    [{}, 'Curved thumb: Bend the thumb.'],
    [{ help: 'Round as a tunnel' }, 'Curved thumb: Round as a tunnel.'],
    [
      { kind: 'stage', help: undefined, name: 'Hold 2, Rest' },
      'Hold 2, Rest: Look whether what stood is still there.',
    ],
    [
      { kind: 'pain', help: undefined },
      'Curved thumb: Stop here, ask where it hurts, and write down what was done.',
    ],
    [
      { kind: 'tapes', help: undefined, why: 'tapes', trouble: 'looseOrMissing' },
      'Tapes: Lay the markers again that came off.',
    ],
    [
      { kind: 'tapes', why: 'tapes', trouble: 'drifted' },
      'Tapes: Prove each marker by ear, then lay it again where it belongs.',
    ],
    [
      { kind: 'tapes', why: 'tapes', trouble: 'wrongInstrument' },
      'Tapes: Measure this instrument, then lay its own markers.',
    ],
    [{ kind: 'tapes', why: 'due', meetings: 0 }, 'Tapes: Look whether each marker is still there and true.'],
  ])('%o', (change, words) => {
    expect(`${nextName(item(change))}: ${nextWords(item(change))}`).toBe(words);
  });

  it.each([
    [{ why: 'hurts' }, 'Said that it hurts'],
    [{ why: 'tapes', trouble: 'drifted' }, 'Until the markers are right, fingers cannot be judged'],
    [{ why: 'root', slips: ['Flat fingers'] }, 'Comes first: it leads to flat fingers'],
    [
      { why: 'root', slips: ['Flat fingers', 'Squeezed neck', 'Palm up'] },
      'Comes first: it leads to flat fingers, squeezed neck and palm up',
    ],
    [{ why: 'root', slips: [] }, 'Comes first: more rests on it'],
    [{ why: 'root', slip: 'Locked thumb', slips: [] }, 'Seen last time: locked thumb'],
    [
      { why: 'root', slip: 'Locked thumb', slips: ['Straight little finger'] },
      'Comes first: locked thumb leads to straight little finger',
    ],
    [{ why: 'due', meetings: 0 }, 'Due again now'],
    [{ why: 'due', meetings: 1 }, 'Due again since the last meeting'],
    [{ why: 'due', meetings: 3 }, 'Due again for 3 meetings'],
    [{ why: 'soon' }, 'Due again at the next meeting, taken along'],
    [
      { why: 'inWork', how: 'opens', seen: true, stage: 'Hold 2, Rest' },
      'In work in Hold 2, Rest, opens the next stage',
    ],
    [{ why: 'inWork', how: 'required', seen: true, stage: 'Hold 2, Rest' }, 'In work in Hold 2, Rest'],
    [{ why: 'inWork', how: 'optional', seen: false, stage: 'Hold 1' }, 'Not looked at yet, not required'],
    [{ why: 'mustSee' }, 'Nothing is due; a look after a while'],
    [{ why: 'byHand' }, 'Neither in work nor due'],
    [
      { why: 'due', meetings: 0, stuck: true },
      'Due again now; seen again and again without rising: try it another way',
    ],
  ])('because %o', (change, words) => {
    expect(whyWords(item(change))).toBe(words);
  });
});
