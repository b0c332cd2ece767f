import { describe, expect, it } from 'vitest';
import type { Checkpoint, ChildPage, NewObservation, Stage } from '../api/client';
import { overlayPage, overlayRoom } from './overlay';
import type { Pending } from './outbox';

function checkpoint(id: string, level?: number): Checkpoint {
  const standing = { level: level ?? 0, lookedAt: '2026-11-01T10:00:00Z', slipped: false, slips: [] };
  const rest = { name: id, required: true, applies: true, lookFor: '', proof: '', cue: '', slips: [] };
  return { id, ...rest, ...(level === undefined ? {} : { standing }) };
}

function stage(id: string, checkpoints: Checkpoint[]): Stage {
  const number = Number(id.split('.')[1]);
  return { id, number, name: id, state: 'open', seconds: 8, waitsFor: [], checkpoints };
}

/** A child with two checkpoints in the hold, one at Alone, and nothing measured. */
function page(): ChildPage {
  const string = { glow: 0, seen: false, flags: [] };
  return {
    child: {
      id: 'ada',
      name: 'Ada K.',
      instrument: 'viola',
      brightness: 0.09,
      visited: true,
      meetingsUnseen: 1,
      strings: [
        { ...string, strand: 'hold', glow: 0.375, seen: true },
        { ...string, strand: 'bow' },
        { ...string, strand: 'frame' },
        { ...string, strand: 'tape' },
      ],
    },
    ladders: [
      {
        strand: 'hold',
        name: 'Hold',
        stages: [stage('hold.1', [checkpoint('hold.size', 3)]), stage('hold.2', [checkpoint('hold.rest')])],
      },
      { strand: 'bow', name: 'Bow grip', stages: [] },
      { strand: 'frame', name: 'Left-hand frame', stages: [] },
      {
        strand: 'tape',
        name: 'Tapes',
        stages: [
          stage('tape.1', [checkpoint('tape.measured')]),
          stage('tape.2', [checkpoint('tape.placed')]),
        ],
      },
    ],
    tapes: { state: 'notMeasured', spots: [] },
    next: [],
    accommodations: [],
    overrides: [],
    pain: [],
    role: 'director',
    history: {
      older: false,
      observations: [
        {
          id: 'known',
          target: 'hold.size',
          targetName: 'Size fits',
          level: 3,
          slips: [],
          observedAt: '2026-11-01T10:00:00Z',
          observer: 'Ms L',
        },
      ],
    },
  };
}

function pending(...observations: Partial<NewObservation>[]): Pending[] {
  return observations.map((observation, index) => ({
    classId: 'class',
    label: '',
    state: 'waiting',
    item: {
      id: `new-${index}`,
      child: 'ada',
      target: 'hold.rest',
      observedAt: '2026-11-24T10:00:00Z',
      ...observation,
    },
  }));
}

const glows = (shown: ChildPage) => shown.child.strings.map(({ glow }) => glow);

describe('observations on their way, laid over a page', () => {
  it('light the string as the server will', () => {
    expect(glows(overlayPage(page(), pending({ level: 2 })))).toEqual([0.625, 0, 0, 0]);
  });

  it('leave a page alone that they do not speak of', () => {
    const before = page();
    expect(overlayPage(before, pending({ child: 'ben', level: 4 }))).toBe(before);
  });

  it('flag a slip: a lower level than before, or one that was ticked', () => {
    const lower = overlayPage(page(), pending({ target: 'hold.size', level: 2 }));
    expect(lower.child.strings[0]?.flags).toEqual(['slip']);
    const ticked = overlayPage(page(), pending({ level: 2, slips: ['any'] }));
    expect(ticked.child.strings[0]?.flags).toEqual(['slip']);
  });

  it('flag pain at once, and a later easy does not take it away', () => {
    const hurts = overlayPage(page(), pending({ level: 2, says: 'hurts' }, { level: 3, says: 'easy' }));
    expect(hurts.child.strings.map(({ flags }) => flags.includes('pain'))).toEqual([
      true,
      false,
      false,
      false,
    ]);
    const taken = overlayPage(page(), pending({ level: 2, says: 'hurts' }, { retracts: 'new-0' }));
    expect(taken.child.strings[0]?.flags).toEqual([]);
  });

  it('flag pain said with a look at a whole stage', () => {
    const shown = overlayPage(page(), pending({ target: 'hold.1', says: 'hurts' }));
    expect(shown.child.strings[0]?.flags).toContain('pain');
  });

  it('vanish with their own undo, sent or not', () => {
    const undone = overlayPage(page(), pending({ level: 4 }, { retracts: 'new-0' }));
    expect(glows(undone)).toEqual(glows(page()));
  });

  it('take back an observation from the history', () => {
    const shown = overlayPage(page(), pending({ target: 'hold.size', retracts: 'known' }));
    expect(shown.ladders[0]?.stages[0]?.checkpoints[0]?.standing).toBeUndefined();
    expect(glows(shown)).toEqual([0, 0, 0, 0]);
  });

  it('move the fourth string by tape stages, and trouble takes no light away', () => {
    const placed = overlayPage(page(), pending({ target: 'tape.placed', level: 3 }));
    expect(glows(placed)[3]).toBe(0.5);
    const lost = overlayPage(
      placed,
      pending({ target: 'tape.placed', level: 3 }, { target: 'tape.placed', level: 0 }),
    );
    expect(glows(lost)[3]).toBe(0.5);
  });

  it('count a look at a whole stage as a look at what stands at Alone', () => {
    const shown = overlayPage(page(), pending({ target: 'hold.1' }));
    expect(shown.ladders[0]?.stages[0]?.checkpoints[0]?.standing?.lookedAt).toBe('2026-11-24T10:00:00Z');
    expect(glows(shown)).toEqual(glows(page()));
  });

  it('show in the room for the child they are of', () => {
    const { child } = page();
    const room = {
      classId: 'class',
      name: '',
      programName: '',
      role: 'director' as const,
      today: '2026-11-24',
      meeting: { number: 1, total: 2, today: true },
      mustSeeAfter: 4,
      strands: [],
      children: [child, { ...child, id: 'ben' }],
    };
    const shown = overlayRoom(room, pending({ level: 4 }), () => page());
    expect(shown.children.map(({ strings }) => strings[0]?.glow)).toEqual([0.875, 0.375]);
  });
});
