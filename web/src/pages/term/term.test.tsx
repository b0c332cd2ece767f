import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { classesAs, director, done, serverThat, show } from '../../testing/server';
import { GroupsPart } from './GroupsPart';
import { NewYearPart } from './NewYearPart';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  vi.restoreAllMocks();
});

const ADA = { id: 'ada', name: 'Ada K.', instrument: 'violin' } as const;
const BEN = { id: 'ben', name: 'Ben O.', instrument: 'cello' } as const;

const term: Schemas['TermView'] = {
  meetings: [],
  holidays: [],
  stages: [],
  strands: [],
  sections: [],
  slips: [],
  groups: [],
  children: [
    {
      child: ADA,
      joined: 1,
      strands: [0.5, 0, 0, 1],
      moved: false,
      strandsThen: [0, 0, 0, 0],
      waits: { looked: 2, mean: 1, longest: 2, now: 1 },
      reached: [],
      changes: [],
    },
  ],
};

const overview: Schemas['ClassOverview'] = {
  children: 2,
  bottlenecks: [],
  sections: [],
  groups: [
    {
      name: 'Thumb locked',
      checkpoint: 'bow.bent',
      checkpointName: 'Bent thumb',
      slip: 'bow-thumb-lock',
      help: 'Bump it.',
      children: [ADA, BEN],
    },
  ],
};

it('keeps a group that is proposed, the same id when it is sent again', async () => {
  let refused = true;
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /term': () => ({ json: term }),
    'GET /overview': () => ({ json: overview }),
    'POST /groups': () => {
      const answer = refused ? { status: 500, json: { title: 'Gone', detail: 'It was not kept.' } } : done();
      refused = false;
      return answer;
    },
  });
  show(<GroupsPart />);
  const keep = await screen.findByRole('button', { name: 'Keep this group' });
  fireEvent.click(keep);
  expect(await screen.findByRole('alert')).toBeTruthy();
  fireEvent.click(keep);
  const groups = () => sent.filter(({ method, path }) => `${method} ${path}` === 'POST /groups');
  await vi.waitFor(() => expect(groups()).toHaveLength(2));
  const [first, second] = groups();
  expect(first?.body).toMatchObject({
    checkpoint: 'bow.bent',
    slip: 'bow-thumb-lock',
    children: ['ada', 'ben'],
  });
  expect(second?.body).toEqual(first?.body);
});

const roster = {
  children: [
    { ...ADA, tag: 'V-04', joinedOn: '2026-10-05', version: '1' },
    { ...BEN, joinedOn: '2026-10-05', version: '1' },
  ],
  left: [],
  otherClasses: [{ id: 'c2', name: 'Second year' }],
} as unknown as Schemas['Roster'];

it('moves children one after the other, and says what was done where one is refused', async () => {
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /roster': () => ({ json: roster }),
    'POST /children/ada/membership': done,
    'POST /children/ben/membership': () => ({
      status: 422,
      json: {
        title: 'Invalid',
        detail: 'no',
        errors: [{ field: 'number', message: 'Another child has this number.' }],
      },
    }),
  });
  show(<NewYearPart />);
  const out = await screen.findByRole('table', { name: 'Still out' });
  expect(within(out).getAllByRole('row')).toHaveLength(1);
  await vi.waitFor(() => expect(screen.getByLabelText('To').getAttribute('aria-disabled')).toBeNull());
  fireEvent.mouseDown(screen.getByLabelText('To'));
  fireEvent.click(await screen.findByRole('option', { name: 'Second year' }));
  fireEvent.click(await screen.findByRole('button', { name: 'Move 2 children to Second year' }));
  expect(await screen.findByText('1 of 2 moved, with everything that was seen of them.')).toBeTruthy();
  expect(screen.getByRole('alert').textContent).toContain('the others are still here');
  expect(sent.find(({ path }) => path === '/children/ada/membership')?.body).toEqual({ class: 'c2' });
});

it('hands over those whose families agree, and says nothing of it to whoever is no owner', async () => {
  serverThat({
    'GET /api/classes': classesAs('owner'),
    'GET /roster': () => ({ json: roster }),
  });
  show(<NewYearPart />);
  const card = await screen.findByRole('region', { name: 'Hand over' });
  expect(within(card).queryByRole('link')).toBeNull();
  fireEvent.click(within(card).getByLabelText('Ben O.'));
  const file = within(card).getByRole('link', { name: '1 child (.zip)' });
  expect(file.getAttribute('href')).toBe('/api/classes/c1/handover.zip?children=ben');
  fireEvent.click(within(card).getByLabelText('Ada K.'));
  expect(within(card).getByRole('link', { name: 'Everybody (.zip)' })).toBeTruthy();
});
