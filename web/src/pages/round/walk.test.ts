import { describe, expect, it } from 'vitest';
import type { RoundEvent, RoundKit } from '../../api/client';
import { foldRound, observationsInForce, mine, questionOf, scanSaves, waits, type RoundState } from './walk';

let number = 0;

function event(kind: RoundEvent['kind'], about: Partial<RoundEvent> & { who?: string[] } = {}): RoundEvent {
  number += 1;
  const { who = [], ...rest } = about;
  return {
    id: `e${String(number).padStart(3, '0')}`,
    round: 'r1',
    kind,
    device: 'one',
    at: `2026-11-24T10:00:${String(number % 60).padStart(2, '0')}Z`,
    children: who.map((child) => ({ child, checks: ['hold.2'] })),
    detail: {},
    ...rest,
  };
}

function begun(...more: RoundEvent[]): RoundState {
  const start = event('start', {
    who: ['ada', 'ben', 'cleo'],
    at: '2026-11-24T09:59:00Z',
    detail: { minutes: 12, scans: [] },
  });
  const state = foldRound([start, ...more]);
  if (!state) throw new Error('a round was begun');
  return state;
}

const todo = (state: RoundState, device = 'one') => mine(state, device).map(({ child }) => child);

describe('how a round stands', () => {
  it('is nothing before one was begun', () => {
    expect(foldRound([event('visited', { who: ['ada'] })])).toBeUndefined();
  });

  it('begins with what this device has taken, then what nobody has, and leaves out what another one has', () => {
    expect(todo(begun())).toEqual(['ada', 'ben', 'cleo']);
    const half = begun(event('take', { who: ['cleo'], device: 'two' }));
    expect(todo(half, 'two')).toEqual(['cleo', 'ada', 'ben']);
    expect(todo(half)).toEqual(['ada', 'ben']);
    const both = begun(
      event('take', { who: ['cleo'], device: 'two' }),
      event('take', { who: ['ada'] }),
      event('visited', { who: ['ada'] }),
    );
    expect(todo(both)).toEqual(['ben']);
    expect(todo(both, 'two')).toEqual(['cleo', 'ben']);
  });

  it('follows from its events in any order and however often', () => {
    const events = [
      event('start', { who: ['ada', 'ben'], detail: { minutes: 9 } }),
      event('visited', { who: ['ada'], detail: { before: { 'hold.2': 1 } } }),
      event('absent', { who: ['ben'] }),
      event('present', { who: ['ben'] }),
      event('skipped', { who: ['ben'] }),
      event('end'),
    ];
    const state = foldRound(events);
    expect(foldRound([...events.toReversed(), ...events])).toEqual(state);
    expect(state).toMatchObject({ minutes: 9, endedAt: events[5]?.at });
    expect(state?.visited.get('ada')).toEqual({ device: 'one', before: { 'hold.2': 1 } });
    expect([...(state?.skipped ?? [])]).toEqual(['ben']);
    expect([...(state?.absent ?? [])]).toEqual([]);
  });

  it('is that of the round begun last', () => {
    const other = { round: 'r2', at: '2026-11-24T11:00:00Z' };
    const state = begun(event('visited', { who: ['ada'] }), event('start', { ...other, who: ['ben'] }));
    expect(state.id).toBe('r2');
    expect(state.visited.size).toBe(0);
  });

  it('leaves to each of two who walk what the other has not taken', () => {
    const state = begun(
      event('take', { who: ['ada'] }),
      event('take', { who: ['ben'], device: 'two' }),
      event('visited', { who: ['ben'], device: 'two' }),
    );
    expect(todo(state)).toEqual(['ada', 'cleo']);
    expect(todo(state, 'two')).toEqual(['cleo']);
    expect([...state.walkers].sort()).toEqual(['one', 'two']);
  });

  it('keeps what was done when the rest is planned anew, and comes back to one who was passed over', () => {
    const state = begun(
      event('visited', { who: ['ada'] }),
      event('skipped', { who: ['ben'] }),
      event('plan', { who: ['ada', 'ben', 'dov'] }),
      event('take', { who: ['ben'] }),
    );
    expect(todo(state)).toEqual(['ben', 'dov']);
    expect(waits(state, { child: 'ada', checks: [] })).toBe(false);
  });
});

describe('the observations of a round', () => {
  const observation = { child: 'ada', target: 'hold.tall', observedAt: '2026-11-24T10:00:00Z', slips: [] };

  it('are those in force, of this round, the latest last, whether the server has them or not', () => {
    const known = [
      { ...observation, id: 'm1', round: 'r1', level: 1 },
      { ...observation, id: 'm9', round: 'r2', level: 4 },
    ];
    const onTheirWay = [
      { ...observation, id: 'm3', round: 'r1', level: 3, observedAt: '2026-11-24T10:00:05Z' },
      { ...observation, id: 'm1', round: 'r1', level: 1 },
      { ...observation, id: 'm2', round: 'r1', retracts: 'm1', observedAt: '2026-11-24T10:00:04Z' },
    ];
    expect(observationsInForce(known, onTheirWay, 'r1').map(({ id, level }) => [id, level])).toEqual([
      ['m3', 3],
    ]);
  });
});

function kit(): RoundKit {
  const check = (target: string, points: number, strand: 'hold' | 'bow' = 'hold') => ({
    target,
    name: target,
    strand,
    kind: 'checkpoint' as const,
    seconds: 10,
    points,
    why: [{ kind: 'due' as const }],
    items: [],
    byScan: true,
  });
  const child = (id: string, row: number, seatOrder: number) => ({
    id,
    name: id,
    instrument: 'violin' as const,
    row,
    seatOrder,
    meetingsUnseen: 2,
    visitPoints: 6,
    pain: false,
    checks: [check('hold.2', 30), check('bow.shape', 25, 'bow')],
    canBeScanned: ['hold.2'],
    closeUp: [],
  });
  const scan = {
    target: 'hold.2',
    name: 'Hold 2',
    strand: 'hold' as const,
    lookFors: [],
    part: 'row-1',
    resolves: ['ada', 'ben'],
    seconds: 12,
    saves: 8,
  };
  return {
    classId: 'c1',
    className: 'Strings',
    today: '2026-11-24',
    meeting: 20,
    minutes: 12,
    visitSeconds: 8,
    maxChecksPerChild: 3,
    mustSeeAfterMeetings: 4,
    pinPoints: 20,
    scanSeconds: 10,
    scanEach: 1,
    strands: [],
    parts: [
      { key: 'row-1', row: 1, children: ['ada', 'ben'] },
      { key: 'row-2', row: 2, children: ['cleo'] },
    ],
    children: [child('ada', 1, 0), child('ben', 1, 1), child('cleo', 2, 2)],
    scans: [scan],
    names: {},
    events: [],
    observations: [],
  };
}

describe('what the planner is asked', () => {
  const asked = { minutes: 12, seconds: 720, scans: [], absent: new Set<string>(), pins: new Set<string>() };
  const points = (question: ReturnType<typeof questionOf>) =>
    question.children.map(({ id, checks }) => [id, ...checks.map((check) => check.points)]);

  it('is about the part, the strand and the children who are left', () => {
    const of = questionOf(kit(), { ...asked, part: 'row-1', strand: 'bow', done: new Set(['ada']) });
    expect(points(of)).toEqual([['ben', 25]]);
  });

  it('counts pins of a child on everything, of a look on that look', () => {
    const of = questionOf(kit(), { ...asked, pins: new Set(['ada', 'ben bow.shape']) });
    expect(points(of)).toEqual([
      ['ada', 50, 45],
      ['ben', 30, 45],
      ['cleo', 30, 25],
    ]);
  });

  it('leaves out what is settled from afar, with its seconds for those who are here', () => {
    const scans = [{ target: 'hold.2', part: 'row-1' }];
    const of = questionOf(kit(), { ...asked, scans, absent: new Set(['ben']) });
    expect(points(of)).toEqual([
      ['ada', 25],
      ['ben', 25],
      ['cleo', 30, 25],
    ]);
    expect(of.secondsAvailable).toBe(720 - 11);
    expect(of.children[1]?.absent).toBe(true);
  });

  it('knows that a scan spares less with every child who is absent', () => {
    const [scan] = kit().scans;
    if (!scan) throw new Error('there is one');
    expect(scanSaves(kit(), scan, new Set())).toBe(8);
    expect(scanSaves(kit(), scan, new Set(['ben']))).toBe(-1);
  });
});
