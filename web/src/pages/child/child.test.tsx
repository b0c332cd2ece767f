import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Checkpoint, ChildPage, NewObservation, Schemas, Stage } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { done, serverThat, show } from '../../testing/server';
import { ChildPanel } from './ChildPanel';
import { HistoryLine } from './HistoryLine';
import { OpenPain } from './PainNotes';

vi.stubGlobal('scrollTo', () => undefined);
Element.prototype.scrollIntoView = () => undefined;

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const seen = '2026-11-20T10:00:00Z';

function checkpoint(id: string, name: string, change: Partial<Checkpoint> = {}): Checkpoint {
  return {
    id,
    name,
    required: true,
    applies: true,
    lookFor: `${name} as it should be`,
    proof: 'It stays',
    cue: 'Like this',
    slips: [{ id: `${id}-slip`, name: 'Slides off', look: 'It slides', help: 'Lay it back' }],
    ...change,
  };
}

function stage(id: string, name: string, change: Partial<Stage>): Stage {
  const number = Number(id.split('.')[1]);
  return {
    id,
    number,
    name,
    state: 'open',
    wantsLook: (change.state ?? 'open') === 'open',
    seconds: 8,
    waitsFor: [],
    checkpoints: [],
    ...change,
  };
}

const standing = (level: number) => ({ level, lookedAt: seen, slipped: false, slips: [] });

function page(change: Partial<ChildPage> = {}): ChildPage {
  const string = { glow: 0.2, seen: true, inWork: true, flags: [] };
  const strands = ['hold', 'bow', 'frame', 'tape'] as const;
  return {
    child: {
      id: 'ada',
      name: 'Ada K.',
      instrument: 'violin',
      brightness: 0.2,
      visited: true,
      meetingsUnseen: 1,
      strings: strands.map((strand) => ({ ...string, strand })),
    },
    ladders: [
      {
        strand: 'hold',
        name: 'Hold',
        stages: [
          stage('hold.1', 'Fit', {
            state: 'reached',
            wantsLook: true,
            recheck: { state: 'due' },
            checkpoints: [
              checkpoint('hold.size', 'Size fits', { standing: standing(3) }),
              checkpoint('hold.seat', 'Seat', { standing: standing(4) }),
            ],
          }),
          stage('hold.2', 'Rest', { checkpoints: [checkpoint('hold.rest', 'Rest position')] }),
          stage('hold.3', 'Raise', {
            state: 'shut',
            waitsFor: ['Hold 2, Rest'],
            checkpoints: [checkpoint('hold.raise', 'Into position')],
          }),
        ],
      },
      { strand: 'bow', name: 'Bow grip', stages: [] },
      { strand: 'frame', name: 'Left-hand frame', stages: [] },
      { strand: 'tape', name: 'Tapes', stages: [] },
    ],
    tapes: { state: 'notMeasured', spots: [] },
    next: [
      {
        kind: 'checkpoint',
        target: 'hold.rest',
        name: 'Rest position',
        help: 'Rest position as it should be',
        why: 'inWork',
        how: 'opens',
        seen: true,
        stage: 'Hold 2, Rest',
        oftenFrom: ['Size fits'],
        stuck: false,
      },
    ],
    accommodations: [],
    overrides: [],
    overridesVersion: 'v1',
    openedBy: {},
    firstLook: 'hold.rest',
    meeting: 20,
    basis: {},
    pain: [],
    role: 'director',
    mayChange: true,
    looksBack: true,
    history: { observations: [], older: false },
    ...change,
  };
}

/** The panel over a server that answers with this page and takes every observation; the observations are gathered. */
async function open(change: Partial<ChildPage> = {}) {
  const sent = serverThat({
    'POST /children/ada/pain/m1': done,
    'PUT /children/ada/accommodations/hold.rest': done,
    'PUT /children/ada/overrides': done,
    'PUT /children/ada/stages/hold.3/opened': done,
    'GET /rules': () => ({ status: 503 }),
    'GET /children/ada': () => ({ json: page(change) }),
    'POST /observations': ({ body }) => ({
      json: {
        results: (body as { observations: NewObservation[] }).observations.map(({ id }) => ({
          id,
          outcome: 'stored',
        })),
      },
    }),
    'GET /children/ada/causes': ({ query }) => ({
      json: causes(query.get('symptoms') ?? '', query.get('answers') ?? ''),
    }),
  });
  show(<ChildPanel />, '/class/:classId/room/:childId', '/class/c1/room/ada');
  await screen.findByRole('heading', { name: 'Ada K.' });
  const observations = () =>
    sent
      .filter(({ path }) => path === '/observations')
      .flatMap(({ body }) => (body as { observations: NewObservation[] }).observations);
  return { sent, observations };
}

function causes(symptoms: string, answers: string): Schemas['CausesView'] {
  const clamp: Schemas['CauseView'] = {
    id: 'thumb-clamp',
    name: 'Thumb clamped',
    side: 'child',
    score: 3,
    symptoms: ['Left hand stays stuck'],
    because: ['says-tight'],
    against: [],
    leadsTo: ['Fingers slow'],
    help: 'Tap the thumb on the neck',
    checkpoint: { id: 'frame.thumb', name: 'Easy thumb', level: 2 },
    slip: 'thumb-clamp',
  };
  const nut: Schemas['CauseView'] = {
    ...clamp,
    id: 'nut-low',
    name: 'Slot at the nut worn',
    side: 'instrument',
    because: answers === 'open' ? ['open'] : [],
    against: ['bridge-as-recorded'],
    leadsTo: [],
  };
  const symptom = (id: string, name: string, how: Schemas['Sense'], change = {}): Schemas['SymptomView'] => ({
    id,
    name,
    how,
    asks: [],
    byEar: [],
    normal: false,
    ...change,
  });
  return {
    symptoms: [
      symptom('stuck-hand', 'Left hand stays stuck', 'see'),
      symptom('buzz', 'Buzz', 'hear', { asks: ['open-or-stopped'], byEar: ['buzz'] }),
      symptom('thud', 'Thud where a ring should be', 'hear', { byEar: ['thud', 'short'] }),
      symptom('hurts-tip', 'Fingertips', 'hurts', { normal: true }),
      symptom('hurts-wrist', 'Left wrist', 'hurts'),
    ],
    causes: symptoms.includes('stuck-hand') ? [clamp] : symptoms.includes('buzz') ? [nut] : [],
  };
}

const button = (name: string | RegExp) => screen.getByRole('button', { name });
const radio = (name: string) => screen.getByRole('radio', { name });

describe('a child beside the rows', () => {
  it('names what is next with its reason, and a tap goes there', async () => {
    await open();
    const next = screen.getByRole('region', { name: 'Next' });
    expect(next.textContent).toContain('Look first at: Size fits.');
    expect(next.textContent).toContain('In work in Hold 2, Rest, opens the next stage.');
    fireEvent.click(within(next).getByRole('button'));
    expect(await screen.findByText('Rest position as it should be', { selector: 'div' })).toBeTruthy();
  });

  it('says so when nothing wants work', async () => {
    await open({ next: [] });
    expect(screen.getByText(/Nothing wants work now/)).toBeTruthy();
  });

  it('sends what the child says with the next observation, and shows the caution before anything is sent', async () => {
    const { observations } = await open();
    expect(screen.queryByText(/numbness or tingling/)).toBeNull();
    fireEvent.click(button('Hurts'));
    expect(screen.getByText(/numbness or tingling/)).toBeTruthy();
    expect(observations()).toEqual([]);
    fireEvent.click(
      within(screen.getByRole('group', { name: 'Level of Rest position' })).getByRole('button', {
        name: /^2/,
      }),
    );
    await waitFor(() => expect(observations()).toHaveLength(1));
    expect(observations()[0]).toMatchObject({ target: 'hold.rest', level: 2, says: 'hurts' });
  });

  it('says that sore tips pass, without a caution, and sends them with the next observation', async () => {
    const { observations } = await open();
    fireEvent.click(button('Sore tips'));
    expect(screen.getByText(/short spells/)).toBeTruthy();
    expect(screen.queryByRole('alert')).toBeNull();
    fireEvent.click(
      within(screen.getByRole('group', { name: 'Level of Rest position' })).getByRole('button', {
        name: /^2/,
      }),
    );
    await waitFor(() => expect(observations()[0]).toMatchObject({ level: 2, says: 'soreTips' }));
  });

  it('looks at a whole stage with exceptions', async () => {
    const { observations } = await open();
    fireEvent.click(button('All but …'));
    fireEvent.click(screen.getAllByRole('button', { name: 'Not this one' })[1] as HTMLElement);
    fireEvent.click(button('Still there but 1'));
    await waitFor(() => expect(observations()).toHaveLength(1));
    expect(observations()[0]).toMatchObject({ target: 'hold.1', except: ['hold.seat'] });
    expect(observations()[0]?.level).toBeUndefined();
  });

  it('opens a shut stage anyway, for a director', async () => {
    const { sent } = await open();
    fireEvent.click(button(/^Stage 3, Raise, shut/));
    expect(screen.getByText('opens after Hold 2, Rest')).toBeTruthy();
    fireEvent.click(button('Open anyway'));
    await waitFor(() =>
      expect(
        sent.some(({ method, path }) => method === 'PUT' && path === '/children/ada/stages/hold.3/opened'),
      ).toBe(true),
    );
  });

  it('offers an assistant nothing that only a director does', async () => {
    await open({ role: 'assistant', mayChange: false });
    fireEvent.click(button(/^Stage 3, Raise, shut/));
    expect(screen.queryByRole('button', { name: 'Open anyway' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'For this child' })).toBeNull();
  });

  it('keeps what counts for this child, with a reason', async () => {
    const { sent } = await open();
    fireEvent.click(button('For this child'));
    const dialog = await screen.findByRole('dialog', { name: /Rest position: what counts for Ada K\./ });
    const keep = within(dialog).getByRole('button', { name: 'Save' });
    fireEvent.click(within(dialog).getByRole('radio', { name: 'Does not apply' }));
    expect(keep).toHaveProperty('disabled', true);
    fireEvent.change(within(dialog).getByLabelText('Why'), { target: { value: 'Plays standing' } });
    fireEvent.click(keep);
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    const put = sent.find(({ method }) => method === 'PUT');
    expect(put?.path).toBe('/children/ada/accommodations/hold.rest');
    expect(put?.body).toEqual({ lookFor: '', reason: 'Plays standing' });
  });

  it('shows what does not apply with its reason and without keys', async () => {
    const exempt = checkpoint('hold.rest', 'Rest position', {
      applies: false,
      accommodated: 'Plays standing',
    });
    const ladders = page().ladders.map((ladder) => ({
      ...ladder,
      stages: ladder.stages.map((one) => (one.id === 'hold.2' ? { ...one, checkpoints: [exempt] } : one)),
    }));
    await open({ ladders });
    expect(screen.getByText('does not apply: Plays standing')).toBeTruthy();
    expect(screen.queryByRole('group', { name: 'Level of Rest position' })).toBeNull();
  });
});

describe('history', () => {
  it('names the checkpoints that a look at a whole stage did not vouch for, and what the child said', async () => {
    const base = { slips: [], observedAt: seen, observer: 'Ms L' };
    const observations = [
      { ...base, id: 'a', target: 'hold.1', targetName: 'Hold 1, Fit', holdsExcept: ['hold.seat'] },
      {
        ...base,
        id: 'b',
        target: 'hold.rest',
        targetName: 'Rest position',
        level: 2,
        says: 'tight' as const,
      },
    ];
    await open({ history: { observations, older: false } });
    fireEvent.click(radio('History'));
    const items = within(screen.getByRole('list', { name: 'History' })).getAllByRole('listitem');
    expect(items[0]?.textContent).toContain('Hold 1, Fit: still there but Seat');
    expect(items[1]?.textContent).toContain('Rest position: Prompted, child says: tight');
  });
});

describe('own overrides', () => {
  const override: ChildPage['overrides'][number] = {
    choice: {
      key: 'bow-fingers',
      name: 'Order of the fingers',
      group: 'Bow hand',
      instruments: ['violin'],
      why: '',
      changes: 'Cues.',
      perChild: true,
      chosen: 'thumb-first',
      options: [
        { id: 'thumb-first', name: 'Thumb first', means: 'The thumb.', suits: '' },
        { id: 'fingers-first', name: 'Fingers first', means: 'The fingers.', suits: '' },
      ],
    },
  };

  it('stand only where the child goes one, until more are asked for', async () => {
    const { sent } = await open({ overrides: [override] });
    fireEvent.click(radio('This child'));
    expect(screen.queryByLabelText('Order of the fingers')).toBeNull();
    fireEvent.click(button('Another way for this child'));
    fireEvent.mouseDown(screen.getByLabelText('Order of the fingers'));
    fireEvent.click(await screen.findByRole('option', { name: 'Fingers first' }));
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({
        choices: { 'bow-fingers': 'fingers-first' },
      }),
    );
  });

  it('are shown to an assistant, who changes none', async () => {
    await open({ overrides: [{ ...override, own: 'fingers-first' }], role: 'assistant', mayChange: false });
    fireEvent.click(radio('This child'));
    expect(screen.getByText('The fingers.')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Another way for this child' })).toBeNull();
  });
});

describe('pain', () => {
  const pain: ChildPage['pain'] = [
    { observation: 'm1', targetName: 'Rest position', note: 'Neck', seen: { by: 'Ms L', at: seen } },
    {
      observation: 'm0',
      targetName: 'Size fits',
      seen: { by: 'Ms L', at: seen },
      done: 'Rested a week.',
      answered: { by: 'Mr A', at: seen },
    },
  ];

  it('stays on top until somebody writes what was done', async () => {
    const { sent } = await open({ pain });
    const region = screen.getByRole('region', { name: 'It hurts' });
    expect(region.textContent).toContain('a health professional judges');
    const keep = within(region).getByRole('button', { name: 'Save' });
    expect(keep).toHaveProperty('disabled', true);
    fireEvent.change(within(region).getByLabelText('What was done'), {
      target: { value: 'Spoke with the family' },
    });
    fireEvent.click(keep);
    await waitFor(() => expect(sent.some(({ method }) => method === 'POST')).toBe(true));
    const post = sent.find(({ method }) => method === 'POST');
    expect([post?.path, post?.body]).toEqual(['/children/ada/pain/m1', { done: 'Spoke with the family' }]);
  });

  it('keeps what was typed while its observation is away for a moment, being read back', () => {
    function ReadBack() {
      const [away, setAway] = useState(false);
      return (
        <>
          <OpenPain classId="c1" page={page({ pain: away ? [] : pain })} />
          <button onClick={() => setAway(!away)}>read</button>
        </>
      );
    }
    show(<ReadBack />, '/', '/');
    const typed = () => screen.queryByLabelText<HTMLInputElement>('What was done');
    fireEvent.change(screen.getByLabelText('What was done'), { target: { value: 'Rested' } });
    fireEvent.click(button('read'));
    expect(typed()).toBeNull();
    fireEvent.click(button('read'));
    expect(typed()?.value).toBe('Rested');
  });

  it('that was answered is shown with what was done', async () => {
    await open({ pain });
    fireEvent.click(radio('This child'));
    expect(screen.getByRole('region', { name: 'It hurt before' }).textContent).toContain(
      'Rested a week. (Mr A)',
    );
  });
});

describe('from symptom to cause', () => {
  it('ranks as symptoms are picked, and records the slip with one tap, at the level the child stands at', async () => {
    const { observations } = await open();
    fireEvent.click(button('What do you hear or see?'));
    const dialog = await screen.findByRole('dialog', { name: /what do you hear or see/ });
    expect(await within(dialog).findByText('Tap one or more; causes come as you tap.')).toBeTruthy();
    fireEvent.click(within(dialog).getByRole('button', { name: 'Left hand stays stuck' }));
    fireEvent.click(await within(dialog).findByRole('button', { name: 'Record it, Easy thumb at Prompted' }));
    await waitFor(() => expect(observations()).toHaveLength(1));
    expect(observations()[0]).toMatchObject({ target: 'frame.thumb', level: 2, slips: ['thumb-clamp'] });
    expect(within(dialog).getByText('Recorded on Easy thumb')).toBeTruthy();
    fireEvent.click(within(dialog).getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(observations()).toHaveLength(2));
    expect(observations()[1]?.retracts).toBe(observations()[0]?.id);
  });

  it('asks what splits a symptom with one more tap, and says what speaks against a cause', async () => {
    const { sent } = await open();
    fireEvent.click(button('What do you hear or see?'));
    const dialog = within(await screen.findByRole('dialog', { name: /what do you hear or see/ }));
    fireEvent.click(await dialog.findByRole('button', { name: 'Buzz' }));
    expect(await dialog.findByText(/Against it: the string is as long as recorded/)).toBeTruthy();
    fireEvent.click(dialog.getByRole('button', { name: 'Open string' }));
    expect(await dialog.findByText(/Left hand stays stuck, the open string/)).toBeTruthy();
    expect(sent.at(-1)?.query.get('answers')).toBe('open');
    // The question goes with the symptom that asks it.
    fireEvent.click(dialog.getByRole('button', { name: 'Buzz' }));
    expect(dialog.queryByRole('button', { name: 'Open string' })).toBeNull();
    await waitFor(() => expect(sent.at(-1)?.query.get('answers')).toBe(''));
    fireEvent.click(dialog.getByRole('button', { name: 'Left hand stays stuck' }));
    expect(await dialog.findByText('Often leads to: fingers slow')).toBeTruthy();
  });

  it('says that sore tips pass, and that anything else that hurts stops the playing', async () => {
    await open();
    fireEvent.click(button('What do you hear or see?'));
    const dialog = within(await screen.findByRole('dialog', { name: /what do you hear or see/ }));
    fireEvent.click(await dialog.findByRole('button', { name: 'Fingertips' }));
    expect(dialog.getByRole('alert').textContent).toContain('the skin hardens');
    fireEvent.click(dialog.getByRole('button', { name: 'Left wrist' }));
    expect(dialog.getByRole('alert').textContent).toContain('Stop for today');
  });
});

describe('the line of observations in time', () => {
  const observation = (id: string, day: number, change: object = {}) => ({
    id,
    target: 'hold.rest',
    targetName: 'Rest position',
    level: 3,
    slips: [],
    observedAt: `2026-11-${day}T10:00:00Z`,
    observer: 'Ms L',
    ...change,
  });

  it('draws a spindle for each observation, a lozenge for slip or pain, and leaves out what was taken back', () => {
    const observations = [
      observation('a', 10),
      observation('b', 12, { slips: ['Slides off'] }),
      observation('c', 14, { says: 'hurts' }),
      observation('d', 16),
      observation('e', 16, { retracts: 'd', level: undefined }),
    ];
    const { container } = show(<HistoryLine observations={observations} />);
    expect(container.querySelectorAll('.observation')).toHaveLength(3);
    expect(container.querySelectorAll('.flag')).toHaveLength(2);
    expect(screen.getByRole('img').getAttribute('aria-label')).toContain(
      'The last 3 observations, from 10 Nov to 14 Nov',
    );
  });

  it('draws nothing of one day', () => {
    const { container } = show(<HistoryLine observations={[observation('a', 10), observation('b', 10)]} />);
    expect(container.querySelector('svg')).toBeNull();
  });
});
