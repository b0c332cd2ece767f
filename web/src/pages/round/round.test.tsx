import 'fake-indexeddb/auto';
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { NewObservation, RoundEvent, RoundKit } from '../../api/client';
import { queryClient } from '../../api/queries';
import { outbox, outboxesOf, roundBox } from '../../offline/useOutbox';
import { director, serverThat, show, type Answers } from '../../testing/server';
import { RoundPage } from './RoundPage';
import { TermAhead } from './TermAhead';

/** Ada, and Ben. */
Element.prototype.scrollIntoView = () => undefined;

const A = '00000000-0000-7000-8000-00000000000a';
const B = '00000000-0000-7000-8000-00000000000b';

const item = (id: string, name: string) => ({
  id,
  name,
  lookFor: `${name} is there`,
  proof: 'A soft test',
  cue: 'Feel it',
  level: 2,
  slips: [
    { id: 'shoulder-up', name: 'Shoulder up', help: 'Let it drop' },
    { id: 'head-down', name: 'Head dives', help: 'Look up' },
  ],
});

function kit(): RoundKit {
  const check = (target: string, name: string, kind: 'checkpoint' | 'stage' = 'checkpoint') => ({
    target,
    name,
    strand: 'hold' as const,
    kind,
    seconds: 8,
    points: 30,
    why: 'due' as const,
    meetings: 0,
    stuck: false,
    items: kind === 'stage' ? [item('hold.rest', 'Rest'), item('hold.seat', 'Seat')] : [item(target, name)],
    byScan: false,
  });
  const child = (id: string, name: string, seatOrder: number) => ({
    id,
    name,
    instrument: 'violin' as const,
    row: 1,
    seatOrder,
    meetingsUnseen: seatOrder,
    visited: seatOrder > 0,
    visitPoints: 3,
    pain: false,
    checks: [check('hold.tall', 'Tall'), check('hold.2', 'Hold 2, Rest', 'stage')],
    canBeScanned: ['hold.seat'],
    closeUp: [],
  });
  return {
    classId: 'c1',
    className: 'First-year strings',
    today: '2026-11-24',
    meeting: 20,
    minutes: 12,
    visitSeconds: 8,
    maxChecksPerChild: 3,
    mustSeeAfterMeetings: 4,
    strands: [{ key: 'hold', name: 'Hold' }],
    parts: [
      { key: 'row-1', row: 1, children: [A, B] },
      { key: 'violin', section: 'violin', children: [A, B] },
    ],
    children: [child(A, 'Ada K.', 0), child(B, 'Ben O.', 1)],
    scans: [
      {
        target: 'hold.seat',
        name: 'Seat and stand',
        strand: 'hold',
        lookFors: [{ instruments: ['violin'], lookFor: 'Feet balanced' }],
        part: '',
        resolves: [],
        seconds: 0,
        saves: 0,
      },
    ],
    names: { 'hold.tall': 'Tall', 'shoulder-up': 'Shoulder up' },
    events: [],
    observations: [],
  };
}

/** A server that keeps what it gets and answers with it, as the real one does. */
function school(more: Answers = {}) {
  const events: RoundEvent[] = [];
  const observations: NewObservation[] = [];
  const read = (): RoundKit => ({
    ...kit(),
    events,
    observations: observations.map(
      ({ id, round, child, target, observedAt, level, slips = [], says, note, retracts }) => ({
        id,
        round: round ?? '',
        child,
        target,
        observedAt,
        slips,
        ...(level != null && { level }),
        ...(says != null && { says }),
        ...(note != null && { note }),
        ...(retracts != null && { retracts }),
      }),
    ),
  });
  const keep = <T extends { id: string }>(into: T[], all: T[]) => {
    into.push(...all);
    return { json: { results: all.map(({ id }) => ({ id, outcome: 'stored' })) } };
  };
  serverThat({
    'GET /api/classes': director,
    'GET /round': () => ({ json: read() }),
    'POST /round/events': ({ body }) => keep(events, (body as { events: RoundEvent[] }).events),
    'POST /observations': ({ body }) =>
      keep(observations, (body as { observations: NewObservation[] }).observations),
    ...more,
  });
  return { events, observations, kinds: () => events.map(({ kind }) => kind) };
}

const button = (name: string | RegExp) => screen.getByRole('button', { name });
const radio = (name: string) => screen.getByRole('radio', { name });

async function walk() {
  show(<RoundPage />, undefined, undefined, queryClient);
  const start = await screen.findByRole('button', { name: 'Walk the round' });
  await waitFor(() => expect(start).toHaveProperty('disabled', false));
  fireEvent.click(start);
  await screen.findByRole('timer');
}

afterEach(cleanup);

describe('a round', () => {
  beforeEach(async () => {
    // The pages' own cache: what the outbox sent is read back into it.
    queryClient.clear();
    queryClient.setDefaultOptions({ queries: { retry: false } });
    await outboxesOf(undefined);
    await outboxesOf(`somebody-${Math.random()}`);
  });

  it('is planned as it is asked for, with its reasons', async () => {
    school();
    show(<RoundPage />, undefined, undefined, queryClient);
    expect(await screen.findByRole('heading', { name: '2 children, 4 looks, 48 s' })).toBeTruthy();
    expect(
      within(screen.getByRole('list', { name: 'Stops' })).getAllByText('Tall: due again now'),
    ).toHaveLength(2);
    fireEvent.click(button(/^Ada K\./));
    expect(await screen.findByRole('heading', { name: '1 child, 2 looks, 24 s' })).toBeTruthy();
    expect(screen.getByText(/^Not this time: 1$/)).toBeTruthy();
    expect(screen.getByText('absent')).toBeTruthy();
    fireEvent.click(radio('Leave out'));
    fireEvent.click(button(/^Ben O\./));
    expect(await screen.findByRole('heading', { name: '0 children, 0 looks, 0 s' })).toBeTruthy();
    expect(button('Walk the round')).toHaveProperty('disabled', true);
  });

  it('observes with one tap, and what is tapped later makes the same look anew', async () => {
    const { observations, kinds } = school();
    await walk();
    const tall = screen.getByRole('region', { name: 'Tall' });
    fireEvent.click(button('Note'));
    fireEvent.change(screen.getByLabelText('Note on Ada K.'), { target: { value: 'New shoes' } });
    fireEvent.click(within(tall).getByRole('button', { name: '3 Alone' }));
    await waitFor(() => expect(observations).toMatchObject([{ note: 'New shoes' }]));
    fireEvent.click(within(tall).getByRole('button', { name: 'Shoulder up' }));
    expect(within(tall).getByText(/Let it drop/)).toBeTruthy();
    await waitFor(() => expect(observations).toHaveLength(3));
    expect(observations[1]).toMatchObject({ retracts: observations[0]?.id, target: 'hold.tall' });
    expect(observations[2]).toMatchObject({
      level: 3,
      slips: ['shoulder-up'],
      note: 'New shoes',
      via: 'visit',
    });
    expect(new Set(observations.map(({ round }) => round)).size).toBe(1);
    fireEvent.click(button('Next: Ben O.'));
    expect(await screen.findByRole('heading', { name: 'Ben O.' })).toBeTruthy();
    await waitFor(() => expect(kinds()).toEqual(['start', 'take', 'visited', 'take']));
  });

  it('takes the last observation of a visit back', async () => {
    const { observations } = school();
    await walk();
    const tall = screen.getByRole('region', { name: 'Tall' });
    const key = within(tall).getByRole('button', { name: '3 Alone' });
    fireEvent.click(key);
    expect(key.getAttribute('aria-pressed')).toBe('true');
    // A person takes longer than a picture to reach Undo.
    await waitFor(() => expect(observations).toHaveLength(1));
    fireEvent.click(button('Undo'));
    await waitFor(() => expect(key.getAttribute('aria-pressed')).toBe('false'));
    await waitFor(() =>
      expect(observations).toMatchObject([{ level: 3 }, { retracts: observations[0]?.id }]),
    );
  });

  /** Another device takes a child now, and this one hears of it. */
  async function taken(events: RoundEvent[], child: string): Promise<void> {
    const round = events[0]?.round ?? '';
    const at = new Date(Date.now() + 1000).toISOString();
    const children = [{ child, checks: [] }];
    events.push({
      id: '00000000-0000-7000-8000-0000000000ff',
      round,
      kind: 'take',
      device: 'another',
      at,
      children,
      detail: {},
    });
    await act(() => queryClient.invalidateQueries());
  }

  it('goes on to the next child when another device takes the one that nothing was tapped at', async () => {
    const { events, kinds } = school();
    await walk();
    await waitFor(() => expect(kinds()).toEqual(['start', 'take']));
    await taken(events, A);
    expect(await screen.findByRole('heading', { name: 'Ben O.' })).toBeTruthy();
  });

  it('stays with the child that was begun with, also when another device takes it', async () => {
    const { events, kinds } = school();
    await walk();
    fireEvent.click(
      within(screen.getByRole('region', { name: 'Tall' })).getByRole('button', { name: '3 Alone' }),
    );
    await waitFor(() => expect(kinds()).toEqual(['start', 'take']));
    await taken(events, A);
    expect(screen.getByRole('heading', { name: 'Ada K.' })).toBeTruthy();
    const stage = screen.getByRole('region', { name: 'Hold 2, Rest' });
    fireEvent.click(within(stage).getByRole('button', { name: 'Still there' }));
    fireEvent.click(button('Next: Ben O.'));
    expect(await screen.findByRole('heading', { name: 'Ben O.' })).toBeTruthy();
    // Neither device takes the child from the other over and over.
    await waitFor(() => expect(kinds()).toEqual(['start', 'take', 'take', 'visited', 'take']));
  });

  it('vouches for a stage but for what has an observation of its own', async () => {
    const { observations } = school();
    await walk();
    const stage = screen.getByRole('region', { name: 'Hold 2, Rest' });
    fireEvent.click(within(stage).getByRole('button', { name: 'Still there' }));
    await waitFor(() => expect(observations).toMatchObject([{ target: 'hold.2', except: [] }]));
    fireEvent.click(within(stage).getByRole('button', { name: 'Seat' }));
    fireEvent.click(within(stage).getByRole('button', { name: '1 Placed' }));
    await waitFor(() => expect(observations).toHaveLength(4));
    expect(observations[1]).toMatchObject({ target: 'hold.seat', level: 1 });
    expect(observations.at(-1)).toMatchObject({ target: 'hold.2', except: ['hold.seat'] });
  });

  it('shows the caution at once when it hurts', async () => {
    const { observations } = school();
    await walk();
    fireEvent.click(button('Hurts'));
    expect(screen.getByRole('alert').textContent).toContain('Stop for today');
    fireEvent.click(
      within(screen.getByRole('region', { name: 'Tall' })).getByRole('button', { name: '0 Not yet' }),
    );
    await waitFor(() => expect(observations).toMatchObject([{ level: 0, says: 'hurts' }]));
  });

  it('says of sore tips that they pass, and goes on', async () => {
    const { observations } = school();
    await walk();
    fireEvent.click(button('Sore tips'));
    expect(screen.getByText(/short spells/)).toBeTruthy();
    expect(screen.queryByRole('alert')).toBeNull();
    fireEvent.click(
      within(screen.getByRole('region', { name: 'Tall' })).getByRole('button', { name: '0 Not yet' }),
    );
    await waitFor(() => expect(observations).toMatchObject([{ level: 0, says: 'soreTips' }]));
  });

  it('is swapped, passed over and ended, and the summary says why', async () => {
    const { kinds } = school();
    await walk();
    fireEvent.click(button('Swap'));
    expect(await screen.findByRole('heading', { name: 'Ben O.' })).toBeTruthy();
    fireEvent.click(button('Absent'));
    expect(await screen.findByRole('heading', { name: 'Ada K.' })).toBeTruthy();
    fireEvent.click(button('Skip'));
    fireEvent.click(await screen.findByRole('button', { name: 'End the round' }));
    const missed = within(await screen.findByRole('region', { name: 'Not reached' }));
    expect(missed.getByText(/Passed over/).textContent).toContain('Ada K.');
    expect(missed.getByText(/Absent/).textContent).toContain('Ben O.');
    await waitFor(() => expect(kinds()).toContain('end'));
    fireEvent.click(button('Another round'));
    expect(await screen.findByRole('button', { name: 'Walk the round' })).toBeTruthy();
  });

  it('scans a row: those who are tapped get that look close up', async () => {
    const { observations } = school();
    await walk();
    fireEvent.click(button('From afar'));
    fireEvent.click(radio('Seat and stand'));
    fireEvent.click(
      within(screen.getByRole('group', { name: 'Whom' })).getByRole('button', { name: 'Row 1' }),
    );
    fireEvent.click(button(/^Ben O\..*as before/));
    fireEvent.click(button('All fine but 1 child'));
    await waitFor(() =>
      expect(observations).toMatchObject([{ child: A, target: 'hold.seat', via: 'scan', level: 3 }]),
    );
  });

  it('is planned where no server answers, and waits to be sent', async () => {
    const { events } = school({
      'POST /round/events': () => {
        throw new TypeError('no network');
      },
    });
    await walk();
    expect(screen.getByRole('heading', { name: '0 of 2 seen' })).toBeTruthy();
    expect(events).toEqual([]);
    expect(roundBox.snapshot().pending.length).toBeGreaterThan(0);
    expect(outbox.snapshot().pending).toEqual([]);
  });
});

describe('the term ahead', () => {
  const band = (middle: number) => ({ low: middle, middle, high: middle + 1 });
  const meeting = (number: number, late: number) => ({
    day: `2026-12-${String(number).padStart(2, '0')}`,
    minutes: 12,
    late: band(late),
    tooLate: late / 2,
    visited: 9,
    longestWait: band(3),
  });
  const stage = (
    goal: 'begun' | 'reached',
    name: string,
    days: [string, string?, string?],
    section?: 'cello',
  ) => ({
    goal,
    stage: name,
    name,
    children: 2,
    low: days[0],
    middle: days[1],
    high: days[2],
    section,
  });
  const ahead = (minutes: number) => ({
    minutes,
    children: 2,
    plays: 200,
    meetings: [meeting(1, 4), meeting(3, 0)],
    longestWait: band(3),
    meanWait: 1.5,
    keepsUp: minutes > 9,
    milestones: [
      stage('reached', 'Hold 2, Rest', ['2026-12-03']),
      stage('begun', 'Hold 3, Raise', ['2026-12-01', '2026-12-02', '2026-12-03']),
      stage('begun', 'Bow grip 2, Bow', ['2026-12-03', '2026-12-03', '2026-12-03'], 'cello'),
    ],
  });
  const rhythm = {
    alone: 4,
    lasting: 8,
    longest: 12,
    tapesFirst: 3,
    tapesLater: 20,
    mustSeeAfter: 4,
    visitSeconds: 8,
    maxChecks: 3,
  };

  it('says in words when most come to what, for the class and for a section, and how few minutes would do', async () => {
    school({
      'GET /forecast': ({ query }) => ({ json: ahead(Number(query.get('minutes'))) }),
      'GET /forecast/fewest': () => ({ json: { minutes: 9 } }),
    });
    show(<TermAhead />);
    expect(await screen.findByText('Most begin Hold 3, Raise about 2 Dec (1 Dec to 3 Dec).')).toBeTruthy();
    const rows = () =>
      within(screen.getByRole('table'))
        .getAllByRole('row')
        .map((row) => row.textContent);
    expect(rows()).toEqual([
      'WhatWhenBetween',
      'Hold 3, Raise: begunabout 2 Dec1 Dec to 3 Dec',
      'Hold 2, Rest: reachedperhaps not before the last meetingnot before 3 Dec',
    ]);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Most of' }));
    fireEvent.click(screen.getByRole('option', { name: 'the cellos' }));
    expect(rows()).toEqual(['WhatWhenBetween', 'Bow grip 2, Bow: begunabout 3 Dec3 Dec']);
    expect(screen.getByText(/the rhythm can be kept/)).toBeTruthy();
    expect(
      screen.getByRole('img', { name: /The longest wait for a visit is 3 to 4 meetings, the mean 1.5/ }),
    ).toBeTruthy();
    fireEvent.click(button('How few minutes would do?'));
    expect(await screen.findByText('9 minutes a meeting keep up with what comes due.')).toBeTruthy();
  });

  it('offers the least stretch of a rhythm that cannot be kept, and one tap takes it', async () => {
    const taken: unknown[] = [];
    school({
      'GET /forecast': () => ({ json: ahead(8) }),
      'GET /forecast/rhythm': () => ({
        json: { minutes: 8, keepsUp: false, stretched: { alone: 5, lasting: 10, longest: 15 } },
      }),
      'GET /rhythm': () => ({ json: { now: rhythm, version: 'one', usual: rhythm } }),
      'PUT /rhythm': (request) => {
        taken.push(request.body);
        return { status: 204 };
      },
    });
    show(<TermAhead />);
    expect(await screen.findByText(/after 5 meetings instead of 4, what is Lasting after 10/)).toBeTruthy();
    fireEvent.click(button('Take this rhythm'));
    await waitFor(() => expect(taken).toEqual([{ ...rhythm, alone: 5, lasting: 10, longest: 15 }]));
  });

  it('says where no rhythm mends it', async () => {
    school({
      'GET /forecast': () => ({ json: { ...ahead(1), milestones: [] } }),
      'GET /forecast/rhythm': () => ({ json: { minutes: 1, keepsUp: false } }),
      'GET /rhythm': () => ({ json: { now: rhythm, version: 'one', usual: rhythm } }),
    });
    show(<TermAhead />);
    expect(await screen.findByText('No longer rhythm mends that: more minutes do.')).toBeTruthy();
    expect(screen.getByText(/Nothing new before the last meeting/)).toBeTruthy();
  });
});
