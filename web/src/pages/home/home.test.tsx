import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { director, done, serverThat, show } from '../../testing/server';
import { Agreement } from './Agreement';
import { BackPart } from './BackPart';
import { CardsPart } from './CardsPart';
import { PracticePart } from './PracticePart';
import { WordingPart } from './WordingPart';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  vi.restoreAllMocks();
});

const home: Schemas['HomeView'] = {
  set: { days: [1, 2], minutes: 10, taps: 20, sitting: 'one' },
  version: 'v1',
  first: '2026-11-30',
  week: '2026-11-30',
  children: [
    {
      child: { id: 'ada', name: 'Ada K.', instrument: 'violin' },
      shows: ['Bent thumb'],
      sore: false,
      lent: true,
    },
    { child: { id: 'ben', name: 'Ben O.', instrument: 'cello' }, shows: [], sore: true, lent: false },
  ],
};

const wording: Schemas['FamilyWordingView'] = {
  lines: [
    { phrase: 'heading', text: 'At home this week' },
    { phrase: 'see', text: 'You see:' },
  ],
  languages: { es: { heading: 'En casa esta semana' } },
  version: 'w1',
};

const week: Schemas['PracticeView'] = {
  agreed: { large: false },
  version: 'v1',
  minutesPerDay: 10,
  days: [
    {
      date: '2026-11-30',
      blocks: [
        { kind: 'finger-strength', minutes: 2, count: 20, presses: true },
        { kind: 'sing', minutes: 8, presses: false },
      ],
    },
  ],
};

it('says what each child shows, and its week as the card has it', async () => {
  serverThat({
    'GET /api/classes': director,
    'GET /home': () => ({ json: home }),
    'GET /home/wording': () => ({ json: wording }),
    'GET /children/ben/practice': () => ({ json: week }),
    'GET /children/ben/answers': () => ({
      json: { weeks: [{ week: '2026-11-23', days: 1, says: 'soreTips' }] },
    }),
  });
  show(<CardsPart />);
  expect(await screen.findByRole('button', { name: '2 cards (PDF)' })).toHaveProperty('disabled', false);
  const links = screen.getAllByRole('link', { name: 'Card' });
  expect(links[1]?.getAttribute('href')).toBe('/api/classes/c1/children/ben/family-card.pdf?paper=a4');
  fireEvent.click(screen.getByRole('button', { name: 'Large print' }));
  expect(screen.getAllByRole('link', { name: 'Card' })[0]?.getAttribute('href')).toMatch(
    /paper=a4&large=true$/,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Week and sheets of Ben O.' }));
  const dialog = await screen.findByRole('dialog', { name: 'The week of Ben O.' });
  expect(await within(dialog).findByText('Finger taps 2 min, 20 each · Sing and clap 8 min')).toBeTruthy();
  expect(within(dialog).getByText(/Something is sore/)).toBeTruthy();
  expect(await within(dialog).findByText('Week from 23 Nov: practised on 1 day, sore tips')).toBeTruthy();
  const care = within(dialog).getByRole('link', { name: 'Care of the instrument' });
  expect(care.getAttribute('href')).toBe(
    '/api/classes/c1/children/ben/sheet.pdf?sheet=care&paper=a4&large=true',
  );
  expect(within(dialog).queryByRole('link', { name: 'Loan to sign' }), 'nothing is lent to him').toBeNull();
});

it('has no card to make where nobody plays an instrument', async () => {
  serverThat({ 'GET /home': () => ({ json: home }) });
  show(<CardsPart />);
  fireEvent.click(await screen.findByRole('button', { name: 'Bass' }));
  expect(screen.getByText('Nobody plays the bass.')).toBeTruthy();
  expect(screen.getByRole('button', { name: '0 cards (PDF)' })).toHaveProperty('disabled', true);
});

it('stops a file that is being made, and says so where it is not made', async () => {
  serverThat({ 'GET /home': () => ({ json: home }) });
  show(<CardsPart />);
  const cards = await screen.findByRole('button', { name: '2 cards (PDF)' });
  const asked: (AbortSignal | undefined)[] = [];
  let refuse: () => void = () => undefined;
  answerWith(
    (_, init) =>
      new Promise((resolve, reject) => {
        asked.push(init?.signal ?? undefined);
        init?.signal?.addEventListener('abort', () => reject(new DOMException('stopped', 'AbortError')));
        refuse = () => resolve(new Response(null, { status: 503 }));
      }),
  );
  fireEvent.click(cards);
  fireEvent.click(await screen.findByRole('button', { name: 'Stop' }));
  expect(await screen.findByRole('button', { name: '2 cards (PDF)' })).toHaveProperty('disabled', false);
  expect(asked[0]?.aborted).toBe(true);
  expect(screen.queryByRole('alert')).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: '2 cards (PDF)' }));
  await screen.findByRole('button', { name: 'Stop' });
  refuse();
  expect((await screen.findByRole('alert')).textContent).toContain('The file was not made');
});

it('saves days, minutes and taps with the version that was read', async () => {
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /home': () => ({ json: home }),
    'PUT /home': done,
  });
  show(<PracticePart />);
  const save = await screen.findByRole('button', { name: 'Save' });
  expect(save).toHaveProperty('disabled', true);
  fireEvent.click(screen.getByRole('button', { name: 'Sat' }));
  fireEvent.click(screen.getByRole('button', { name: 'Mon' }));
  fireEvent.change(screen.getByLabelText('Minutes a day'), { target: { value: '12' } });
  fireEvent.click(screen.getByRole('radio', { name: 'In short moments' }));
  fireEvent.click(save);
  await waitFor(() => expect(sent.find(({ method }) => method === 'PUT')).toBeDefined());
  const put = sent.find(({ method }) => method === 'PUT');
  expect(put?.body).toEqual({ days: [2, 6], minutes: 12, taps: 20, sitting: 'moments' });
  expect(put?.headers.get('if-match')).toBe('"v1"');
});

it('says beside each field what cannot be', async () => {
  serverThat({
    'GET /api/classes': director,
    'GET /home': () => ({ json: home }),
    'PUT /home': () => ({
      status: 422,
      json: {
        type: 'about:blank',
        title: '',
        status: 422,
        detail: '',
        errors: [{ field: 'minutes', detail: '3 to 60 minutes a day.' }],
      },
    }),
  });
  show(<PracticePart />);
  fireEvent.change(await screen.findByLabelText('Minutes a day'), { target: { value: '99' } });
  fireEvent.click(await screen.findByRole('button', { name: 'Save' }));
  expect(await screen.findByText('3 to 60 minutes a day.')).toBeTruthy();
  expect(screen.getByLabelText('Minutes a day')).toHaveProperty('value', '99');
});

it('takes what came back tap by tap, asks where it hurts, and shows the one whose code was read', async () => {
  const came = { ...home, children: home.children.map((one) => ({ ...one })) };
  const sent = serverThat({
    'GET /home': () => ({ json: came }),
    'POST /home/answers': ({ body }) => ({
      json: { results: (body as { answers: object[] }).answers.map(() => ({ outcome: 'stored' })) },
    }),
  });
  show(<BackPart />);
  expect(await screen.findByText(/0 of 2 children so far/)).toBeTruthy();
  const days = screen.getByRole('group', { name: 'Days on which Ada K. practised' });
  fireEvent.click(within(days).getByRole('button', { name: '4' }));
  expect(within(days).getByRole('button', { name: '4' }).getAttribute('aria-pressed')).toBe('true');
  const how = screen.getByRole('group', { name: 'How it was for Ada K.' });
  fireEvent.click(within(how).getByRole('button', { name: 'Hurts' }));
  const where = screen.getByRole('group', { name: 'At what it hurts Ada K.' });
  fireEvent.click(within(where).getByRole('button', { name: 'Bow grip' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Stop, tell the family');
  await waitFor(() => expect(sent.filter(({ method }) => method === 'POST')).toHaveLength(2));
  const answers = sent.flatMap(({ method, body }) =>
    method === 'POST' ? (body as { answers: object[] }).answers : [],
  );
  expect(answers).toMatchObject([
    { child: 'ada', days: 4 },
    { child: 'ada', says: 'hurts', hurtsAt: 'bow' },
  ]);
});

it('keeps what is agreed with a family; without a day or minutes the child does as the class does', async () => {
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /home': () => ({ json: home }),
    'GET /home/wording': () => ({ json: wording }),
    'GET /children/ada/practice': () => ({ json: { ...week, agreed: { minutes: 6, large: false } } }),
    'GET /children/ada/answers': () => ({ json: { weeks: [] } }),
    'PUT /children/ada/practice': done,
  });
  show(<CardsPart />);
  fireEvent.click(await screen.findByRole('button', { name: 'Week and sheets of Ada K.' }));
  const agreed = await screen.findByRole('region', { name: 'Agreed with the family' });
  expect(within(agreed).getByRole('button', { name: 'Save' })).toHaveProperty('disabled', true);
  fireEvent.change(within(agreed).getByLabelText('Minutes a day'), { target: { value: '' } });
  fireEvent.click(within(agreed).getByRole('button', { name: 'Sat' }));
  fireEvent.click(within(agreed).getByRole('button', { name: 'Card in large print' }));
  fireEvent.click(within(agreed).getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(sent.find(({ method }) => method === 'PUT')).toBeDefined());
  const put = sent.find(({ method }) => method === 'PUT');
  expect(put?.body).toEqual({ days: [6], large: true });
  expect(put?.headers.get('if-match')).toBe('"v1"');
});

it('words the lines of cards in a family’s language, and leaves out what stays empty', async () => {
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /home/wording': () => ({ json: wording }),
    'PUT /home/wording': done,
    'GET /room': () => ({ json: {} }),
    'GET /round': () => ({ json: {} }),
  });
  show(<WordingPart />);
  const spanish = await screen.findByRole('region', { name: 'Spanish' });
  expect(within(spanish).getByRole('status').textContent).toMatch(/^1 of 2 lines in Spanish/);
  fireEvent.change(within(spanish).getByLabelText('You see:'), { target: { value: 'Se ve:' } });
  const add = screen.getByLabelText('Add a language');
  fireEvent.change(add, { target: { value: 'Arab' } });
  fireEvent.click(await screen.findByRole('option', { name: 'Arabic' }));
  const arabic = await screen.findByRole('region', { name: 'Arabic' });
  expect(within(arabic).getByLabelText('You see:').getAttribute('dir')).toBe('rtl');
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(sent.some(({ method }) => method === 'PUT')).toBe(true));
  const put = sent.find(({ method }) => method === 'PUT');
  expect(put?.body).toEqual({ languages: { es: { heading: 'En casa esta semana', see: 'Se ve:' } } });
  expect(put?.headers.get('if-match')).toBe('"w1"');
});

it('lets a family have a language that the class has words for', async () => {
  const sent = serverThat({
    'GET /api/classes': director,
    'GET /home/wording': () => ({ json: wording }),
    'PUT /children/ada/practice': done,
    'GET /room': () => ({ json: {} }),
    'GET /round': () => ({ json: {} }),
  });
  show(<Agreement classId="c1" childId="ada" agreed={{ large: false }} version="v1" />);
  fireEvent.mouseDown(await screen.findByLabelText('Also in'));
  fireEvent.click(await screen.findByRole('option', { name: 'Spanish' }));
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({ large: false, language: 'es' }),
  );
});
