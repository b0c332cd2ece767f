import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { director, done, serverThat, show } from '../../testing/server';
import { drillOf } from '../../testing/drills';
import { LessonPart } from './LessonPart';
import { OverviewPart } from './OverviewPart';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const ada = { id: 'ada', name: 'Ada K.', instrument: 'violin' as const };
const ben = { id: 'ben', name: 'Ben O.', instrument: 'cello' as const };

const bottleneck: Schemas['BottleneckView'] = {
  checkpoint: 'hold.tall',
  name: 'Tall and level',
  strand: 'hold',
  stageName: 'Hold 3, Raise',
  below: [ada],
  unseen: [ben],
};

const overview: Schemas['ClassOverview'] = {
  children: 2,
  bottlenecks: [bottleneck],
  groups: [
    {
      name: 'String pulled up',
      checkpoint: 'bow.pluck',
      checkpointName: 'Plucking hand',
      help: 'Draw it sideways',
      children: [ada, ben],
    },
  ],
  sections: [
    {
      instrument: 'violin',
      children: 1,
      strands: [
        {
          strand: 'hold',
          glow: 0.5,
          atStages: [{ number: 3, name: 'Raise', children: 1 }, { children: 0 }],
          bottleneck,
        },
      ],
    },
  ],
};

function open(json: Schemas['ClassOverview']) {
  serverThat({ 'GET /overview': () => ({ json }) });
  show(<OverviewPart />);
}

describe('the class read as a whole', () => {
  it('says what holds it back, with whom', async () => {
    open(overview);
    const card = await screen.findByRole('region', { name: 'Tall and level' });
    expect(card.textContent).toContain('2 of 2');
    expect(card.textContent).toContain('1 below Prompted, 1 not looked at yet');
    expect(
      within(card)
        .getByRole('link', { name: /Ada K\./, hidden: true })
        .getAttribute('href'),
    ).toBe('/class/c1/room/ada');
  });

  it('proposes small groups with the help that they share', async () => {
    open(overview);
    const group = await screen.findByRole('region', { name: 'String pulled up, 2 children' });
    expect(group.textContent).toContain('Draw it sideways');
    expect(within(group).getAllByRole('link')).toHaveLength(2);
  });

  it('stands by section and strand', async () => {
    open(overview);
    const row = (await screen.findAllByRole('row'))[1];
    expect(row?.textContent).toContain('1 at Raise');
    expect(row?.textContent).toContain('waits at Tall and level (2)');
  });

  it('says what to do first in an empty class', async () => {
    open({ ...overview, children: 0, bottlenecks: [], groups: [], sections: [] });
    expect(await screen.findByText(/Nobody is in this class yet/)).toBeTruthy();
  });
});

const lesson: Schemas['LessonView'] = {
  day: '2026-11-26',
  minutes: 40,
  proposed: {
    blocks: [
      { kind: 'setUp', minutes: 5 },
      { kind: 'drill', minutes: 3, drill: 'statue' },
      { kind: 'look', minutes: 12 },
      { kind: 'book', minutes: 20 },
    ],
    aims: ['I find my place'],
  },
  drills: [
    {
      drill: drillOf('statue', 'Statue and rest', 'I find my place'),
      minutes: 3,
      load: true,
      ready: 2,
      of: 2,
    },
    { drill: drillOf('strokes', 'Long strokes', 'My bow stays'), minutes: 3, load: false, ready: 0, of: 2 },
  ],
  glances: [
    {
      instrument: 'cello',
      thumb: 'Behind the neck',
      spacing: 'Even',
      notes: [
        { note: 'E', string: 'D', stop: { finger: '1' } },
        { note: 'F sharp', string: 'D', stop: { finger: '3' } },
      ],
    },
  ],
  supports: [ada],
  tapes: [],
  tunes: [{ id: 'hot-cross-buns', name: 'Hot cross buns' }],
  tuning: [],
};

describe('the next lesson', () => {
  const school = () =>
    serverThat({
      'PUT /lessons/2026-11-26': done,
      'GET /api/classes': director,
      'GET /lesson': () => ({ json: lesson }),
    });

  it('is proposed as timed blocks, changed, and kept as it stands', async () => {
    const sent = school();
    show(<LessonPart />);
    expect(await screen.findByRole('heading', { name: 'Thu 26 Nov, 40 minutes' })).toBeTruthy();
    expect(screen.getByText('Pins and supports: 1 child due')).toBeTruthy();
    expect(screen.getByText('Tapes: nobody is due')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'One minute more for Book' }));
    fireEvent.change(screen.getByLabelText('Book and page'), { target: { value: 'Green, page 12' } });
    fireEvent.click(screen.getByRole('button', { name: 'Round earlier' }));
    fireEvent.click(screen.getByRole('button', { name: 'Add Long strokes' }));
    fireEvent.click(screen.getByRole('button', { name: 'Leave out Tune and set up' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(sent.find(({ method }) => method === 'PUT')).toBeTruthy());
    expect(sent.find(({ method }) => method === 'PUT')).toMatchObject({
      path: '/lessons/2026-11-26',
      body: {
        blocks: [
          { kind: 'look', minutes: 12 },
          { kind: 'drill', minutes: 3, drill: 'statue' },
          { kind: 'book', minutes: 21, line: 'Green, page 12' },
          { kind: 'drill', minutes: 3, drill: 'strokes' },
        ],
        aims: ['I find my place', 'My bow stays'],
      },
    });
  });

  it('tells what differs on the next instrument', async () => {
    school();
    show(<LessonPart />);
    const card = within(await screen.findByRole('region', { name: 'What differs on the next instrument' }));
    expect(card.getByText('Thumb: behind the neck')).toBeTruthy();
    expect(card.getByText('Cello: F sharp on D is 3')).toBeTruthy();
    fireEvent.click(card.getByRole('radio', { name: 'E on D' }));
    expect(card.getByText('Cello: E on D is 1')).toBeTruthy();
  });
});
