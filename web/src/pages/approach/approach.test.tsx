import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { classesAs, director, done, serverThat, show } from '../../testing/server';
import { CalendarAddress } from './CalendarAddress';
import { CalendarPart } from './CalendarPart';
import { ChecklistPart } from './ChecklistPart';
import { FilePart } from './FilePart';
import { RhythmPart } from './RhythmPart';
import { SchoolsPart } from './SchoolsPart';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const scroll: Schemas['ChoiceView'] = {
  key: 'scroll',
  name: 'Where the scroll looks',
  group: 'Body and instrument',
  instruments: ['violin', 'viola'],
  why: 'The left arm hangs freely.',
  changes: 'The look-for of Where it points.',
  perChild: false,
  chosen: 'left',
  options: [
    { id: 'left', name: 'Out to the left', means: 'Halfway.', suits: 'short arms.' },
    { id: 'nose', name: 'In line with the nose', means: 'Straight ahead.', suits: 'teachers.' },
  ],
};

const changes: Schemas['ChangeView'][] = [
  {
    target: 'hold.aim',
    name: 'Where it points',
    instruments: ['violin', 'viola'],
    before: { kind: 'words', text: 'Scroll level, out to the left' },
    after: { kind: 'words', text: 'Scroll level, in line with the nose' },
  },
  {
    target: 'bow.pencil',
    name: 'On a pencil',
    instruments: ['violin', 'viola', 'cello', 'bass'],
    before: { kind: 'words', text: 'x' },
    after: { kind: 'not' },
  },
];

describe('the schools', () => {
  const answers = {
    'PUT /approach': done,
    'PUT /checklist/bow.thumb': done,
    'DELETE /checklist/bow.own-rosin/own': done,
    'GET /api/classes': director,
    'GET /approach': () => ({ json: { choices: [scroll], overrides: {} } }),
    'POST /approach/preview': () => ({ json: { changes } }),
  };

  it('shows what a change would change before it is kept, and keeps nothing by itself', async () => {
    const sent = serverThat(answers);
    show(<SchoolsPart />);
    const nose = await screen.findByRole('radio', { name: /^In line with the nose/ });
    await waitFor(() => expect(nose).toHaveProperty('disabled', false));
    fireEvent.click(nose);
    const bar = await screen.findByRole('region', { name: 'Before it is kept' });
    expect(
      await within(bar).findByText('2 texts would read otherwise. No observation changes.'),
    ).toBeTruthy();
    expect(bar.textContent).toContain('Scroll level, in line with the nose');
    expect(bar.textContent).toContain('not asked for; its observations are kept');
    expect(sent.some(({ method }) => method === 'PUT')).toBe(false);
    fireEvent.click(within(bar).getByRole('button', { name: '1 change: save' }));
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({
        choices: { scroll: 'nose' },
        turnsOn: {},
      }),
    );
  });

  it('names the day on which a way turns into another, and keeps the one that is typed', async () => {
    const way: Schemas['ChoiceView'] = {
      ...scroll,
      key: 'bow-way',
      name: 'Way into the bow hold',
      chosen: 'balance-point',
      turnsOn: '2126-12-09',
      options: [
        {
          id: 'balance-point',
          name: 'Balance point',
          means: 'Where it balances.',
          suits: 'small hands.',
          turns: { into: 'from-balance', after: '2126-12-13' },
        },
        { id: 'from-balance', name: 'At the frog', means: 'Moved.', suits: 'later weeks.' },
      ],
    };
    const sent = serverThat({
      ...answers,
      'GET /approach': () => ({ json: { choices: [way], overrides: {} } }),
      'POST /approach/preview': () => ({ json: { changes: [] } }),
    });
    show(<SchoolsPart />);
    const day = await screen.findByLabelText('From');
    expect(day).toHaveProperty('value', '2126-12-09');
    await waitFor(() => expect(day).toHaveProperty('disabled', false));
    fireEvent.change(day, { target: { value: '2126-12-16' } });
    fireEvent.click(await screen.findByRole('button', { name: '1 change: save' }));
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({
        choices: {},
        turnsOn: { 'bow-way': '2126-12-16' },
      }),
    );
    fireEvent.click(screen.getByRole('radio', { name: /^At the frog/ }));
    expect(screen.queryByLabelText('From')).toBeNull();
  });

  it('leaves everything as it was', async () => {
    serverThat(answers);
    show(<SchoolsPart />);
    const nose = await screen.findByRole('radio', { name: /^In line with the nose/ });
    await waitFor(() => expect(nose).toHaveProperty('disabled', false));
    fireEvent.click(nose);
    fireEvent.click(await screen.findByRole('button', { name: 'Discard' }));
    expect(screen.queryByRole('region', { name: 'Before it is kept' })).toBeNull();
    expect(nose).toHaveProperty('checked', false);
  });

  it('can be read but not changed by an assistant', async () => {
    serverThat({
      ...answers,
      'GET /api/classes': classesAs('assistant'),
    });
    show(<SchoolsPart />);
    const left = await screen.findByRole('radio', { name: /^Out to the left.*Default: The left arm/ });
    expect(left).toHaveProperty('disabled', true);
  });
});

const texts = { lookFor: 'Thumb bent', proof: 'The nail shows', cue: 'Bumpy thumb' };
const checklist: Schemas['ChecklistView'] = {
  changed: 0,
  stages: [
    {
      id: 'bow.2',
      strand: 'bow',
      strandName: 'Bow grip',
      number: 2,
      name: 'Bow',
      checkpoints: [
        {
          id: 'bow.thumb',
          name: 'Bent thumb',
          seconds: 8,
          traits: ['required'],
          leftOut: [],
          texts: [{ instruments: ['violin', 'viola', 'cello'], now: texts, shared: texts }],
        },
        {
          id: 'bow.own-rosin',
          name: 'Rosin day',
          seconds: 5,
          traits: ['own'],
          leftOut: [],
          texts: [{ instruments: ['violin'], now: { ...texts, proof: '' }, shared: { ...texts, proof: '' } }],
        },
      ],
    },
  ],
};

describe('the checklist', () => {
  const answers = {
    'PUT /checklist/bow.thumb': done,
    'DELETE /checklist/bow.own-rosin/own': done,
    'GET /api/classes': director,
    'GET /checklist': () => ({ json: checklist }),
  };

  it('reads as one instrument reads it', async () => {
    serverThat(answers);
    show(<ChecklistPart />);
    expect(await screen.findAllByText('Thumb bent')).toHaveLength(2);
    fireEvent.click(screen.getByRole('radio', { name: 'Bass' }));
    expect(screen.getAllByText('Not for this instrument.')).toHaveLength(2);
  });

  it('words a checkpoint for the class, and counts its letters', async () => {
    const sent = serverThat(answers);
    show(<ChecklistPart />);
    fireEvent.click(await screen.findByRole('button', { name: 'Change Bent thumb' }));
    const dialog = await screen.findByRole('dialog', { name: 'Bent thumb' });
    const cue = within(dialog).getByLabelText(/^Say to the child/);
    fireEvent.change(cue, { target: { value: 'Thumb like a banana' } });
    expect(within(dialog).getByText('19 of 40 characters. As it ships: Bumpy thumb')).toBeTruthy();
    fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({
      off: false,
      texts: [{ instruments: ['violin', 'viola', 'cello'], texts: { ...texts, cue: 'Thumb like a banana' } }],
    });
  });

  it('adds a checkpoint, and says beside the field what cannot be', async () => {
    const problem = {
      type: '/problems/not-valid',
      title: '',
      status: 422,
      detail: 'Nothing was changed.',
      errors: [{ field: 'name', detail: 'Write something.' }],
    };
    const sent = serverThat({ ...answers, 'POST /checklist': () => ({ status: 422, json: problem }) });
    show(<ChecklistPart />);
    fireEvent.click(await screen.findByRole('button', { name: 'Add a checkpoint' }));
    const dialog = await screen.findByRole('dialog', { name: 'A checkpoint of your own' });
    fireEvent.change(within(dialog).getByLabelText('Look for'), { target: { value: 'The page is open' } });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Bass' }));
    fireEvent.click(within(dialog).getByRole('button', { name: 'Save' }));
    expect((await within(dialog).findAllByText('Write something.')).length).toBeGreaterThan(0);
    expect(within(dialog).getByLabelText('Look for')).toHaveProperty('value', 'The page is open');
    expect(sent.find(({ method }) => method === 'POST')?.body).toMatchObject({
      stage: 'hold.1',
      texts: [{ instruments: ['violin', 'viola', 'cello'], texts: { lookFor: 'The page is open' } }],
    });
  });

  it('removes one of the class’s own', async () => {
    const sent = serverThat(answers);
    show(<ChecklistPart />);
    fireEvent.click(await screen.findByRole('button', { name: 'Change Rosin day' }));
    const dialog = await screen.findByRole('dialog', { name: 'Rosin day' });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.find(({ method }) => method === 'DELETE')?.path).toBe('/checklist/bow.own-rosin/own');
  });
});

describe('the checklist as a file', () => {
  const file = new File(['format = 1'], 'ours.toml', { type: 'text/plain' });
  const pick = () => {
    const input = document.querySelector('input[type=file]');
    if (!input) throw new Error('there is a place for a file');
    fireEvent.change(input, { target: { files: [file] } });
  };

  it('is shown first and taken in only as it was shown', async () => {
    const sent = serverThat({
      'GET /api/classes': director,
      'POST /checklist/import': ({ query }) => ({
        json: { changes, choices: 1, drills: 0, languages: 0, digest: 'this one', done: query.has('digest') },
      }),
    });
    show(<FilePart />);
    await screen.findByRole('heading', { name: 'Take one in' });
    pick();
    expect(
      await screen.findByText('1 school would change, 0 drills, 2 texts would read otherwise.'),
    ).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Take it in' }));
    expect(await screen.findByText('Taken in.')).toBeTruthy();
    expect(
      sent.at(-1)?.query.get('digest') ?? sent.find(({ query }) => query.has('digest'))?.query.get('digest'),
    ).toBe('this one');
  });

  it('names every line that does not fit', async () => {
    const errors = ['Line 1: This build reads another format.', 'Line 3: There is no choice.'];
    const problem = {
      type: '/problems/not-valid',
      title: '',
      status: 422,
      detail: '',
      errors: errors.map((detail) => ({ field: 'file', detail })),
    };
    serverThat({
      'GET /api/classes': director,
      'POST /checklist/import': () => ({ status: 422, json: problem }),
    });
    show(<FilePart />);
    await screen.findByRole('heading', { name: 'Take one in' });
    pick();
    for (const line of errors) expect(await screen.findByText(line)).toBeTruthy();
  });
});

describe('the rhythm', () => {
  const usual = {
    alone: 4,
    lasting: 8,
    longest: 40,
    tapesFirst: 3,
    tapesLater: 20,
    mustSeeAfter: 4,
    visitSeconds: 8,
    maxChecks: 3,
  };

  it('is kept as it was typed, and what cannot be stands beside its field', async () => {
    const problem = {
      type: '/problems/not-valid',
      title: '',
      status: 422,
      detail: '',
      errors: [{ field: 'longest', detail: 'At least as long as after Lasting.' }],
    };
    const sent = serverThat({
      'GET /api/classes': director,
      'GET /rhythm': () => ({ json: { now: usual, usual } }),
      'PUT /rhythm': () => ({ status: 422, json: problem }),
    });
    show(<RhythmPart />);
    const keep = await screen.findByRole('button', { name: 'Save' });
    expect(keep).toHaveProperty('disabled', true);
    fireEvent.change(screen.getByLabelText('What is Lasting'), { target: { value: '50' } });
    fireEvent.click(keep);
    expect((await screen.findAllByText('At least as long as after Lasting.')).length).toBeGreaterThan(0);
    expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({ ...usual, lasting: 50 });
    expect(screen.getByLabelText('What is Lasting')).toHaveProperty('value', '50');
    fireEvent.click(screen.getByRole('button', { name: 'The usual rhythm' }));
    expect(screen.getByLabelText('What is Lasting')).toHaveProperty('value', '8');
  });
});

describe('the calendar', () => {
  const choose = async (file: File) => {
    const pick = await waitFor(() => {
      const found = document.querySelector('input[type=file]');
      if (!found) throw new Error('a file can be chosen');
      return found;
    });
    fireEvent.change(pick, { target: { files: [file] } });
  };
  const set = {
    firstDay: '2026-09-01',
    lastDay: '2026-12-18',
    meetingDays: [2, 4],
    daysOff: [{ day: '2026-10-29', reason: 'Autumn break' }],
    shortDays: [],
  };
  const answer = {
    set,
    timeZone: 'Europe/Dublin',
    today: '2026-11-24',
    meetings: ['2026-11-03', '2026-11-26'],
  };

  it('is kept whole, with the days off of a file looked at first', async () => {
    const sent = serverThat({
      'GET /api/classes': director,
      'GET /calendar': () => ({ json: answer }),
      'GET /calendar/address': () => ({ json: {} }),
      'PUT /calendar': done,
      'POST /calendar/days-off': () => ({
        json: {
          days: [{ day: '2026-11-26', reason: 'Staff day' }],
          others: 3,
          leftOut: [
            { name: 'Concert', why: 'timed' },
            { name: 'Market', why: 'rule' },
          ],
        },
      }),
    });
    show(<CalendarPart />);
    expect(await screen.findByText(/2 meetings in all, 1 still to come/)).toBeTruthy();
    await choose(new File(['BEGIN:VCALENDAR'], 'school.ics'));
    expect((await screen.findByText(/1 meeting day found in it/)).textContent).toContain('3 other days');
    const left = screen.getAllByRole('listitem').map((item) => item.textContent);
    expect(left.filter((words) => /Market|Concert/.test(words))).toEqual([
      'How they repeat cannot be worked out; only the first time was taken, add the others by hand: Market.',
      'With a time of day; the class may meet all the same: Concert.',
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Fri' }));
    fireEvent.click(screen.getByRole('button', { name: 'Remove Thu 29 Oct' }));
    fireEvent.change(screen.getByLabelText('Short days: day'), { target: { value: '2026-12-01' } });
    fireEvent.change(screen.getByLabelText('Minutes'), { target: { value: '4' } });
    const short = screen.getByRole('region', { name: 'Short days' });
    fireEvent.click(within(short).getByRole('button', { name: 'Add' }));
    fireEvent.click(screen.getByRole('button', { name: 'Save the calendar' }));
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({
        ...set,
        meetingDays: [2, 4, 5],
        daysOff: [{ day: '2026-11-26', reason: 'Staff day' }],
        shortDays: [{ day: '2026-12-01', minutes: 4, reason: '' }],
      }),
    );
  });

  it('says what a file is that cannot be read, and keeps what was set', async () => {
    serverThat({
      'GET /api/classes': director,
      'GET /calendar': () => ({ json: answer }),
      'GET /calendar/address': () => ({ json: {} }),
      'POST /calendar/days-off': () => ({
        status: 422,
        json: {
          type: 'x',
          title: 'x',
          status: 422,
          detail: 'x',
          errors: [{ field: 'file', detail: 'No calendar.' }],
        },
      }),
    });
    show(<CalendarPart />);
    await screen.findByText('Autumn break');
    await choose(new File(['x'], 'x.ics'));
    expect((await screen.findByRole('alert')).textContent).toContain('No calendar.');
    expect(screen.getByText('Autumn break')).toBeTruthy();
  });
});

describe('the address of a calendar', () => {
  it('is shown once when it is made, and ended', async () => {
    let kept: Record<string, string> = {};
    serverThat({
      'GET /calendar/address': () => ({ json: kept }),
      'POST /calendar/address': () => {
        kept = { madeAt: '2026-11-30T10:00:00Z', madeBy: 'Ms Quill' };
        return { status: 201, json: { path: '/api/calendars/abc/meetings.ics' } };
      },
      'DELETE /calendar/address': () => {
        kept = {};
        return { status: 204 };
      },
    });
    show(<CalendarAddress classId="c1" />);
    const make = await screen.findByRole('button', { name: 'Make an address' });
    await waitFor(() => expect(make.hasAttribute('disabled')).toBe(false));
    fireEvent.click(make);
    const address = await screen.findByLabelText<HTMLInputElement>('Shown this once');
    expect(address.value).toBe(`${window.location.origin}/api/calendars/abc/meetings.ics`);
    expect(await screen.findByText(/by Ms Quill/)).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'End it' }));
    expect(await screen.findByRole('button', { name: 'Make an address' })).toBeTruthy();
    expect(screen.queryByLabelText('Shown this once')).toBeNull();
  });
});

describe('a rhythm that somebody else saves meanwhile', () => {
  const rhythm = {
    alone: 4,
    lasting: 8,
    longest: 40,
    tapesFirst: 3,
    tapesLater: 20,
    mustSeeAfter: 4,
    visitSeconds: 8,
    maxChecks: 3,
  };
  const problem = { type: '/problems/changed-meanwhile', title: '', status: 412, detail: '' };

  it('stays as it was typed, is shown beside the other, and is saved on top of it when that is wanted', async () => {
    let there = { now: rhythm, version: 'one', usual: rhythm };
    const sent = serverThat({
      'GET /api/classes': director,
      'GET /rhythm': () => ({ json: there }),
      'PUT /rhythm': (request) =>
        request.headers.get('if-match') === '"two"'
          ? { status: 204 }
          : { status: 412, json: { ...problem, version: 'two', document: { ...rhythm, longest: 55 } } },
    });
    show(<RhythmPart />, undefined, undefined, queryClient);
    const longest = await screen.findByLabelText<HTMLInputElement>('The longest wait');
    await waitFor(() => expect(longest.disabled).toBe(false));
    fireEvent.change(longest, { target: { value: '33' } });
    there = { ...there, now: { ...rhythm, longest: 55 }, version: 'two' };
    await act(() => queryClient.invalidateQueries());
    expect(longest.value).toBe('33');
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    const dialog = await screen.findByRole('dialog', { name: 'Saved by somebody else meanwhile' });
    expect(within(dialog).getAllByRole('row')).toHaveLength(2);
    within(dialog).getByRole('row', { name: 'The longest wait 55 meetings 33 meetings' });
    fireEvent.click(within(dialog).getByRole('button', { name: 'Save yours instead' }));
    await waitFor(() => expect(sent.filter(({ method }) => method === 'PUT')).toHaveLength(2));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('gives way to the other when that is taken', async () => {
    let there = { now: rhythm, version: 'one', usual: rhythm };
    serverThat({
      'GET /api/classes': director,
      'GET /rhythm': () => ({ json: there }),
      'PUT /rhythm': () => ({ status: 412, json: { ...problem, version: 'two', document: there.now } }),
    });
    show(<RhythmPart />, undefined, undefined, queryClient);
    const longest = await screen.findByLabelText<HTMLInputElement>('The longest wait');
    await waitFor(() => expect(longest.disabled).toBe(false));
    fireEvent.change(longest, { target: { value: '33' } });
    there = { ...there, now: { ...rhythm, longest: 55 }, version: 'two' };
    await act(() => queryClient.invalidateQueries());
    fireEvent.click(screen.getByRole('button', { name: 'Save' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Take what is saved' }));
    await waitFor(() => expect(longest.value).toBe('55'));
  });
});
