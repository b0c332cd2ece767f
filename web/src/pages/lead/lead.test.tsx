import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../../api/client';
import type { LeadSignal } from '../../api/live';
import { queryClient } from '../../api/queries';
import { drillOf, stepOf } from '../../testing/drills';
import { answerWith } from '../../testing/network';
import { prefersStill } from '../../testing/motion';
import { done, serverThat, show } from '../../testing/server';
import { Lead } from './Lead';
import { programOf, samePlace, type Drill } from './program';
import { Remote } from './Remote';
import { groupedTexts, textFor } from './texts';

/** The line from the server, on which a test says what other pages say. */
let line: EventTarget | undefined;
const Quiet = globalThis.EventSource;
globalThis.EventSource = class extends Quiet {
  constructor(url: string | URL) {
    super(url);
    line = heardOn(this);
  }
};
const heardOn = (opened: EventTarget) => opened;

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  window.localStorage.clear();
  vi.useRealTimers();
});

const statue = drillOf('statue', 'Statue and rest', 'I find my place', {
  rounds: 2,
  steps: [
    { beats: 2, load: true, text: { violin: 'Up', viola: 'Up', cello: 'Lean it back', bass: 'Up' } },
    stepOf(2, 'Back to rest'),
  ],
});
const fruit = drillOf('fruit', 'Fruit on open D', 'I say it', {
  levels: ['rests', 'joined'],
  steps: [
    stepOf(4, 'Bow it', { say: ['pear', 'ap-ple'] }),
    stepOf(2, 'Finger down in the rest', { quiet: true }),
    stepOf(2, 'Shake out'),
  ],
});

function lesson(...drills: Drill[]): Partial<Schemas['LessonView']> {
  return {
    minutes: 40,
    proposed: { blocks: [{ kind: 'drill', minutes: 3, drill: 'statue' }], aims: [] },
    drills: drills.map((drill) => ({ drill, minutes: 3, load: true, ready: 1, of: 1 })),
    glances: [],
    supports: [],
    tapes: [],
    tunes: [],
  };
}

/** Each step on every instrument: at rest, then playing, moved to. */
const step = (pose: string, moves: boolean) => {
  const drawn = { figure: { view: 'body' as const, set: { pose } }, moves };
  return { violin: drawn, viola: drawn, cello: drawn, bass: drawn };
};
const drawings = {
  class: {
    checkpoints: {},
    slips: {},
    options: {},
    steps: { statue: [step('rest', false), step('playing', true)] },
  },
  children: {},
};

const lead = async (drill: Drill, shown: object = drawings) => {
  const sent = serverThat({
    'POST /lead': done,
    'GET /lesson': () => ({ json: lesson(statue, fruit) }),
    'GET /drawings': () => ({ json: shown }),
  });
  show(<Lead />, '/class/:classId/lead/:drillId', `/class/c1/lead/${drill.id}`);
  await screen.findByRole('heading', { name: drill.name });
  return sent;
};

const count = () => screen.getByRole('status', { name: 'Count' }).textContent;
/** What an instrument does now; what is the same for everybody stands there once. */
const now = (instrument: string) => {
  const everybody = screen.queryByRole('region', { name: 'Everybody' });
  return (everybody ?? screen.getByRole('region', { name: instrument })).querySelector('p')?.textContent;
};

const pass = (seconds: number) => {
  act(() => {
    vi.advanceTimersByTime(seconds * 1000);
  });
};

describe('a drill before the class', () => {
  it('shows the four instruments side by side, and nobody by name', async () => {
    await lead(statue);
    expect(screen.getByRole('region', { name: 'Everybody' }).textContent).toContain('Ready');
    expect(screen.getByRole('complementary', { name: 'What comes next' }).textContent).toContain('Up');
    expect(await screen.findAllByRole('img', { name: /^(violin|viola|cello|bass): Ready/ })).toHaveLength(4);
    fireEvent.keyDown(window, { key: 'ArrowRight' });
    expect(
      screen.getAllByRole('img', { name: /: (Up|Lean it back)\. Drawn: .*feet on the floor/ }),
    ).toHaveLength(4);
    for (const name of ['Violin', 'Viola', 'Bass']) {
      expect(screen.getByRole('region', { name }).querySelector('p')?.textContent).toBe('Up');
    }
    expect(now('Cello')).toBe('Lean it back');
    fireEvent.keyDown(window, { key: 'm' });
    expect(screen.getAllByRole('img', { name: /as in a mirror/ })).toHaveLength(4);
  });

  it('shows the other first to a class that sees both, beside the right one where nothing may move', async () => {
    prefersStill(true);
    const other = { view: 'body' as const, set: { left_shoulder: 54 }, amiss: ['shoulder' as const] };
    const seesBoth = { ...step('rest', false), violin: { ...step('rest', false).violin, other } };
    await lead(statue, { ...drawings, class: { ...drawings.class, steps: { statue: [seesBoth] } } });
    expect(await screen.findAllByRole('img', { name: /^(violin|viola|cello|bass): Ready/ })).toHaveLength(4);
    const before = screen.getAllByRole('img', { name: /before/ });
    expect(before.map((drawn) => drawn.getAttribute('aria-label')?.split('.')[0])).toEqual([
      'violin, before: look at the shoulder',
    ]);
  });

  it('counts beat by beat through every round, with the rest between them', async () => {
    await lead(statue);
    vi.useFakeTimers();
    fireEvent.click(screen.getByRole('button', { name: /^Start/ }));
    pass(1.5);
    expect(count()).toBe('2 of 4');
    pass(3);
    expect([count(), now('Viola')]).toEqual(['1 of 2', 'Up']);
    pass(4);
    expect(screen.getByRole('alert').textContent).toContain('Rest');
    expect(screen.getByText('Round 1 of 2')).toBeTruthy();
    // 4 to begin, 4 in each round, 12 of rest: ten seconds in whole bars.
    pass(12);
    expect([count(), screen.getByText('Round 2 of 2').textContent]).toEqual(['1 of 2', 'Round 2 of 2']);
    pass(4);
    expect(screen.getByRole('alert').textContent).toContain('Done');
    pass(20);
    expect(screen.getByRole('button', { name: /^Once more/ })).toBeTruthy();
  });

  it('is steered by keys and by a presenter: on, back, again, the next round', async () => {
    await lead(statue);
    const press = (key: string) => fireEvent.keyDown(window, { key });
    press('PageDown');
    expect(now('Cello')).toBe('Lean it back');
    press('ArrowRight');
    expect(now('Cello')).toBe('Back to rest');
    press('PageUp');
    expect(now('Cello')).toBe('Lean it back');
    press('r');
    expect(screen.getByText('Round 2 of 2')).toBeTruthy();
    press('a');
    expect(now('Cello')).toBe('Ready');
    press('+');
    expect(screen.getByText('64')).toBeTruthy();
  });

  it('pauses where it is and goes on from there', async () => {
    await lead(statue);
    vi.useFakeTimers();
    fireEvent.keyDown(window, { key: 'p' });
    pass(2.5);
    fireEvent.keyDown(window, { key: 'p' });
    const there = count();
    pass(30);
    expect(count()).toBe(there);
    fireEvent.keyDown(window, { key: ' ' });
    pass(1.3);
    expect(count()).toBe('4 of 4');
  });

  it('takes a tempo from taps, and plays without rests at the level chosen', async () => {
    await lead(fruit);
    vi.useFakeTimers();
    for (let tap = 0; tap < 4; tap += 1) {
      fireEvent.keyDown(window, { key: 't' });
      pass(0.6);
    }
    expect(screen.getByText('100')).toBeTruthy();
    fireEvent.keyDown(window, { key: 'ArrowRight' });
    const said = within(screen.getByRole('group', { name: 'Say' }));
    expect(said.getByText('pear').getAttribute('aria-current')).toBe('true');
    expect(said.getByText('ap·ple').getAttribute('aria-current')).toBeNull();
    fireEvent.keyDown(window, { key: 'ArrowRight' });
    expect(now('Bass')).toContain('in the rest');
    fireEvent.click(screen.getByRole('radio', { name: 'Without rests' }));
    fireEvent.keyDown(window, { key: 'a' });
    fireEvent.keyDown(window, { key: 'ArrowRight' });
    fireEvent.keyDown(window, { key: 'ArrowRight' });
    expect(now('Bass')).toBe('Shake out');
  });
});

const page = '00000000-0000-4000-8000-000000000001';
const hear = (signal: Omit<LeadSignal, 'page'>) =>
  act(() => {
    line?.dispatchEvent(new MessageEvent('lead', { data: JSON.stringify({ page, ...signal }) }));
  });

describe('the phone as a remote', () => {
  it('is obeyed by the page on the projector, which says how it stands', async () => {
    const sent = await lead(statue);
    const last = () => sent.findLast(({ path }) => path.endsWith('/lead'))?.body as LeadSignal;
    await waitFor(() =>
      expect(last()).toMatchObject({ action: 'state', drill: 'statue', beat: 0, running: false }),
    );
    hear({ action: 'next' });
    expect(now('Violin')).toBe('Up');
    await waitFor(() => expect(last()).toMatchObject({ action: 'state', beat: 4 }));
    hear({ action: 'tempo', tempo: 90 });
    hear({ action: 'start' });
    await waitFor(() => expect(last()).toMatchObject({ tempo: 90, running: true }));
    hear({ action: 'pause' });
    hear({ action: 'again' });
    expect(now('Violin')).toBe('Ready');
  });

  it('shows what the projector shows and says each tap', async () => {
    const sent = serverThat({ 'POST /lead': done, 'GET /lesson': () => ({ json: lesson(statue, fruit) }) });
    show(<Remote />, '/class/:classId/remote', '/class/c1/remote');
    const said = () =>
      sent.filter(({ path }) => path.endsWith('/lead')).map(({ body }) => (body as LeadSignal).action);
    fireEvent.click(await screen.findByRole('button', { name: 'Statue and rest' }));
    await waitFor(() => expect(said()).toEqual(['ask', 'open']));
    hear({ action: 'state', drill: 'statue', beat: 4, running: false, tempo: 60 });
    const card = within(await screen.findByRole('region', { name: 'Statue and rest' }));
    expect(card.getByRole('status', { name: 'Now' }).textContent).toContain('Cello: Lean it back');
    fireEvent.click(card.getByRole('button', { name: 'Start' }));
    fireEvent.click(card.getByRole('button', { name: 'Next round' }));
    fireEvent.click(card.getByRole('button', { name: 'Faster' }));
    await waitFor(() => expect(said()).toEqual(['ask', 'open', 'start', 'round', 'tempo']));
    hear({ action: 'state', drill: 'statue', beat: 24, running: false, tempo: 60 });
    expect(card.getByRole('button', { name: 'Once more' })).toBeTruthy();
  });
});

describe('places in a drill', () => {
  it('are found again at another level and another tempo', () => {
    const [rests, joined] = [programOf(fruit, 'rests', 60), programOf(fruit, 'joined', 60)];
    expect([rests.beats, joined.beats]).toEqual([12, 10]);
    expect(samePlace(rests, 6, joined)).toBe(6);
    expect(samePlace(rests, 10, joined)).toBe(8);
    expect(samePlace(rests, 12, joined)).toBe(10);
    expect(samePlace(joined, 9, rests)).toBe(11);
  });

  it('say what each instrument does, also where the drill is not for it', () => {
    const low = { ...statue, on: ['cello' as const], steps: [stepOf(2, '', { text: { cello: 'Drop it' } })] };
    const step = programOf(low, undefined, 60).segments[1];
    expect([textFor(low, step, 'cello'), textFor(low, step, 'violin')]).toEqual([
      'Drop it',
      'Rest and listen',
    ]);
    expect(groupedTexts(low, step)).toEqual([
      ['Violin, viola, bass', 'Rest and listen'],
      ['Cello', 'Drop it'],
    ]);
  });
});
