import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { FitChild, Preview, Schemas } from '../../api/client';
import { FilePick } from '../../parts/FilePick';
import { FitStep } from './FitStep';
import { ImportStep } from './ImportStep';
import { InventoryImport } from './InventoryImport';
import { MatchStep } from './MatchStep';
import { SuppliesStep } from './SuppliesStep';
import { queryClient } from '../../api/queries';
import answers from '../../testing/answers.json';
import { answerWith } from '../../testing/network';
import { classesAs, director, done, serverThat, show } from '../../testing/server';

afterEach(() => {
  cleanup();
  localStorage.clear();
  answerWith(undefined);
  queryClient.clear();
});

const file = (name = 'roster.csv', text = 'Kid,Plays\nAda King,viola\n') =>
  new File([text], name, { type: 'text/csv' });

function pick(chosen: File): void {
  const input = document.querySelector('input[type=file]');
  if (!input) throw new Error('there is a place for a file');
  fireEvent.change(input, { target: { files: [chosen] } });
}

const preview: Preview = {
  columns: [
    { heading: 'Kid', means: 'nothing', example: 'Ada King' },
    { heading: 'Plays', means: 'instrument', example: 'viola' },
  ],
  letters: [],
  groups: [],
  needs: 'Say which column holds the children’s names.',
  rows: [],
  new: 0,
  changed: 0,
  same: 0,
  refused: 0,
  untouched: [],
  leaving: [],
  disabled: 0,
  ended: 0,
  digest: 'none yet',
};

describe('importing a roster', () => {
  const answer = {
    'POST /roster/import': ({ query }: { query: URLSearchParams }) => {
      const named = query.get('mapping')?.includes('"Kid":"name"');
      if (!named) return { json: preview };
      const rows: Preview['rows'] = [
        { line: 2, name: 'Ada K.', action: 'new', instrument: 'viola', changes: [] },
        {
          line: 3,
          name: 'Ben O.',
          action: 'refused',
          reason: '“tuba” is none of violin, viola, cello and bass.',
          changes: [],
        },
      ];
      const read: Preview = { ...preview, new: 1, refused: 1, digest: 'this one', untouched: ['Zed Q.'] };
      delete read.needs;
      return { json: { ...read, rows } };
    },
  };

  it('stores nothing before the director agreed to just what is shown', async () => {
    const sent = serverThat(answer);
    show(<ImportStep />);
    pick(file());
    await screen.findByText(/Say which column holds/);
    expect(screen.getByRole('button', { name: 'Nothing to import' })).toHaveProperty('disabled', true);
    fireEvent.mouseDown(screen.getByLabelText('Kid'));
    fireEvent.click(await screen.findByRole('option', { name: 'Whole name' }));
    const agree = await screen.findByRole('button', { name: 'Import 1 child' });
    expect(sent.every(({ query }) => !query.has('digest'))).toBe(true);
    expect(screen.getByText(/Zed Q\./)).toBeTruthy();
    // What wants a look comes first.
    const rows = screen.getAllByRole('row').slice(1);
    expect(rows.map((row) => within(row).getAllByRole('cell')[1]?.textContent)).toEqual(['Ben O.', 'Ada K.']);
    fireEvent.click(agree);
    await screen.findByText('elsewhere');
    expect(sent.at(-1)?.query.get('digest')).toBe('this one');
    expect(sent.at(-1)?.query.get('mapping')).toContain('"Kid":"name"');
  });

  it('asks how letters are written where the file does not say, by words of it', async () => {
    const ways = [
      { letters: 'western', words: 'Šárka B.' },
      { letters: 'cyrillic', words: 'Љбrka B.' },
    ];
    const sent = serverThat({
      'POST /roster/import': ({ query }) => ({
        json: { ...preview, letters: query.get('letters') === 'cyrillic' ? [...ways].reverse() : ways },
      }),
    });
    show(<ImportStep />);
    pick(file());
    await screen.findByText(/does not say how its letters are written/);
    fireEvent.mouseDown(screen.getByLabelText('Letters'));
    fireEvent.click(await screen.findByRole('option', { name: 'Љбrka B. (Cyrillic)' }));
    await waitFor(() => expect(sent.at(-1)?.query.get('letters')).toBe('cyrillic'));
  });

  it('finds a class among those of a district by typing, and asks for its children only', async () => {
    const groups = Array.from({ length: 4000 }, (_, number) => ({
      name: `Strings ${number}`,
      rows: 25,
      chosen: false,
    }));
    const sent = serverThat({ 'POST /roster/import': () => ({ json: { ...preview, groups } }) });
    show(<ImportStep />);
    pick(file());
    const field = await screen.findByRole('combobox', { name: 'Groups of the file' });
    fireEvent.focus(field);
    fireEvent.change(field, { target: { value: 'strings 3999' } });
    fireEvent.click(await screen.findByRole('option', { name: 'Strings 3999 (25)' }));
    await waitFor(() => expect(sent.at(-1)?.query.get('groups')).toBe('["Strings 3999"]'));
  });

  it('shows how far a large file is read, and what comes of it', async () => {
    let say: (line: string) => void = () => undefined;
    const lines = new ReadableStream<Uint8Array>({
      start: (controller) => {
        say = (line) => controller.enqueue(new TextEncoder().encode(line));
      },
    });
    const headers = { 'content-type': 'application/x-ndjson' };
    answerWith(() => Promise.resolve(new Response(lines, { headers })));
    show(<ImportStep />);
    pick(file());
    await screen.findByText('Being sent and read');
    say('{"read":0.4');
    say('3}\n');
    await screen.findByText('43 % read');
    say('{"read":1.00}\n{"status":422,"answer":{"type":"","status":422,"detail":"x","errors":[');
    say('{"field":"file","detail":"The file is empty."}]}}\n');
    await screen.findByText(/The file is empty/);
    expect(screen.queryByText(/% read/)).toBeNull();
  });

  it('says what is wrong with a file beside it and keeps the page as it is', async () => {
    serverThat({
      'POST /roster/import': () => ({
        status: 422,
        json: {
          type: '/problems/not-valid',
          title: 'x',
          status: 422,
          detail: 'Nothing was changed.',
          errors: [
            { field: 'file', detail: 'The file is empty. Save it again from the spreadsheet as CSV.' },
          ],
        },
      }),
    });
    show(<ImportStep />);
    pick(file('empty.csv', ''));
    await screen.findByText(/The file is empty/);
    expect(screen.getByText('empty.csv')).toBeTruthy();
  });
});

describe('importing instruments', () => {
  const inventory: Schemas['InventoryPreview'] = {
    columns: [
      { heading: 'Inv', example: 'V-1' },
      { heading: 'String mm', means: 'String length mm', example: '307' },
    ],
    letters: [],
    needs: 'Say which column holds: Tag.',
    rows: [],
    new: 0,
    changed: 0,
    same: 0,
    refused: 0,
    digest: 'none yet',
    done: false,
  };

  it('shows every column with what it is taken for, and what was read otherwise', async () => {
    const onDone = vi.fn();
    const sent = serverThat({
      'POST /instruments/import': ({ query }) => {
        if (!query.get('mapping')?.includes('"Inv":"Tag"')) return { json: inventory };
        const read = { ...inventory };
        delete read.needs;
        const row = { line: 2, tag: 'V-1', action: 'new', readAs: 'Size 2026-03-04 is read as 3/4.' };
        return { json: { ...read, new: 1, rows: [row], digest: 'this one', done: query.has('digest') } };
      },
    });
    show(<InventoryImport classId="c1" onDone={onDone} />);
    pick(file('store.csv', 'Inv,String mm'));
    await screen.findByText('Say which column holds: Tag.');
    expect(screen.getByLabelText('String mm').textContent).toBe('String length, mm');
    expect(screen.getByLabelText('Inv').textContent).toBe('Leave out');
    fireEvent.mouseDown(screen.getByLabelText('Inv'));
    fireEvent.click(await screen.findByRole('option', { name: 'Tag' }));
    expect(await screen.findByText(/Size 2026-03-04 is read as 3\/4\./)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Import 1 instrument' }));
    await waitFor(() => expect(onDone).toHaveBeenCalledOnce());
    expect(JSON.parse(sent.at(-1)?.query.get('mapping') ?? '')).toEqual({
      Inv: 'Tag',
      'String mm': 'String length mm',
    });
  });
});

describe('choosing a file', () => {
  it('takes none that the server would refuse for its size', () => {
    const onFile = vi.fn();
    show(<FilePick label="Choose" accept=".csv" busy={false} onStop={() => undefined} onFile={onFile} />);
    const large = file('large.csv');
    Object.defineProperty(large, 'size', { value: 9 * 1024 * 1024 });
    pick(large);
    expect(screen.getByText(/large\.csv has 9 MB; 8 MB is the most/)).toBeTruthy();
    expect(onFile).not.toHaveBeenCalled();
    pick(file('small.csv'));
    expect(onFile).toHaveBeenCalledOnce();
    expect(screen.queryByText(/8 MB is the most/)).toBeNull();
  });

  it('can be stopped while it is being read', () => {
    const onStop = vi.fn();
    show(
      <FilePick label="Choose" name="a.csv" accept=".csv" busy onStop={onStop} onFile={() => undefined} />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(onStop).toHaveBeenCalledOnce();
  });
});

const child = (id: string, name: string, more: Partial<FitChild> = {}): FitChild => ({
  id,
  name,
  instrument: 'violin',
  wanted: ['armMm', 'heightMm'],
  measures: {},
  measureAgain: true,
  card: {
    seatFromHeight: false,
    seatToleranceMm: 10,
    pinFromHeight: false,
    pinToleranceMm: 20,
    pinFirstTry: false,
    found: {},
  },
  ...more,
});

describe('measuring a line of children', () => {
  const fit = {
    'POST /children/a/measurings': done,
    'GET /api/classes': director,
    'GET /fit': () => ({
      json: {
        today: '2026-11-24',
        remeasureAfterDays: 60,
        choices: [],
        facts: answers.fit.facts,
        pinWay: answers.fit.pinWay,
        children: [
          child('a', 'Ada K.'),
          child('b', 'Ben O.', { measures: { armMm: 500 }, measuredOn: '2026-11-20', measureAgain: false }),
          child('c', 'Cy P.'),
        ],
      },
    }),
  };

  it('shows the size while numbers are typed, and the day on which growth would reach the next', async () => {
    serverThat(fit);
    show(<FitStep />);
    fireEvent.change(await screen.findByLabelText('Arm, mm'), { target: { value: '540' } });
    await screen.findByText('Violin 1/2, between sizes');
    expect(screen.getByText(/^Arm of 540 mm: 1\/2 is from 508 mm on, 3\/4 from 546 mm\./)).toBeTruthy();
    expect(screen.getByText(/3\/4 in about 88 days, around 20 Feb/)).toBeTruthy();
    expect(screen.getByText(/the shop and the child’s comfort decide/)).toBeTruthy();
  });

  it('keeps what changed and goes on with Enter', async () => {
    const sent = serverThat(fit);
    show(<FitStep />);
    const arm = await screen.findByLabelText('Arm, mm');
    await waitFor(() => expect(document.activeElement).toBe(arm));
    fireEvent.change(arm, { target: { value: '552' } });
    fireEvent.submit(arm);
    await screen.findByRole('heading', { name: 'Ben O.' });
    const kept = sent.filter(({ path }) => path === '/children/a/measurings');
    expect(kept.map(({ body }) => body)).toEqual([expect.objectContaining({ armMm: 552 })]);
    // Nothing typed, nothing sent: only the next child.
    fireEvent.submit(screen.getByLabelText('Arm, mm'));
    await screen.findByRole('heading', { name: 'Cy P.' });
    expect(sent.filter(({ path }) => path.endsWith('/measurings'))).toHaveLength(1);
  });

  it('says beside the field what cannot be, and keeps what was typed', async () => {
    serverThat(fit);
    show(<FitStep />);
    const arm = await screen.findByLabelText('Arm, mm');
    fireEvent.change(arm, { target: { value: '5400' } });
    await screen.findByText(/^5400 mm cannot be/);
    expect(arm).toHaveProperty('value', '5400');
  });

  it('turns what was typed into inches and back', async () => {
    const sent = serverThat(fit);
    show(<FitStep />);
    fireEvent.change(await screen.findByLabelText('Arm, mm'), { target: { value: '546.1' } });
    fireEvent.click(screen.getByRole('radio', { name: 'in' }));
    expect(screen.getByLabelText('Arm, in')).toHaveProperty('value', '21.5');
    fireEvent.submit(screen.getByLabelText('Arm, in'));
    await waitFor(() => expect(sent.some(({ path }) => path === '/children/a/measurings')).toBe(true));
    expect(sent.find(({ path }) => path === '/children/a/measurings')?.body).toMatchObject({ armMm: 546.1 });
  });

  it('narrows the line to those who are to be measured', async () => {
    serverThat(fit);
    show(<FitStep />);
    fireEvent.click(await screen.findByRole('radio', { name: 'To measure (2)' }));
    const line = screen.getByRole('region', { name: 'The line' });
    expect(within(line).queryByText('Ben O.')).toBeNull();
    expect(within(line).getByText('Cy P.')).toBeTruthy();
  });
});

describe('the class matched to the store', () => {
  const pair = (child: string, present: boolean) => ({
    child,
    name: child.toUpperCase(),
    instrument: 'viola',
    asset: `asset-${child}`,
    tag: `A-${child}`,
    size: '13',
    present,
    locked: false,
    fits: '13',
    gap: { kind: 'exact' },
    fair: false,
  });
  const match = {
    'POST /loans': done,
    'PUT /children/b/loan': done,
    'GET /api/classes': director,
    'GET /match': () => ({
      json: {
        pairs: [pair('a', false), pair('b', true), pair('c', false)],
        without: [{ child: 'd', name: 'D', instrument: 'viola' }],
        shortfall: [{ instrument: 'viola', size: '12', count: 2 }],
      },
    }),
  };

  it('gives out all that are new at once, and leaves the others', async () => {
    const sent = serverThat(match);
    show(<MatchStep />);
    fireEvent.click(await screen.findByRole('button', { name: 'Give out 2 instruments' }));
    await waitFor(() => expect(sent.some(({ path }) => path === '/loans')).toBe(true));
    expect(sent.find(({ path }) => path === '/loans')?.body).toEqual({
      pairs: [
        { child: 'a', asset: 'asset-a' },
        { child: 'c', asset: 'asset-c' },
      ],
    });
    expect(screen.getByText(/2 × viola 12/)).toBeTruthy();
  });

  it('gives out one, or keeps a pair', async () => {
    const sent = serverThat(match);
    show(<MatchStep />);
    fireEvent.click(await screen.findByRole('button', { name: 'Give A-c to C' }));
    await waitFor(() => expect(sent.some(({ path }) => path === '/loans')).toBe(true));
    expect(sent.find(({ path }) => path === '/loans')?.body).toEqual({
      pairs: [{ child: 'c', asset: 'asset-c' }],
    });
    fireEvent.click(screen.getByRole('button', { name: 'Keep A-b with B' }));
    await waitFor(() => expect(sent.some(({ path }) => path === '/children/b/loan')).toBe(true));
    expect(sent.find(({ path }) => path === '/children/b/loan')?.body).toEqual({ locked: true });
  });
});

describe('supplies', () => {
  const supplies = (role: string) => ({
    'PUT /supplies': done,
    'GET /api/classes': classesAs(role),
    'GET /supplies': () => ({
      json: {
        lines: [
          { key: 'tape', name: 'Tape', unit: 'm', needed: 10.6, inStore: 4, toBuy: 6.6, countedHere: true },
          {
            key: 'bows-viola',
            name: 'Bows for violas',
            unit: 'pieces',
            needed: 8,
            inStore: 8,
            toBuy: 0,
            countedHere: false,
          },
        ],
      },
    }),
  });

  it('are counted where they stand and kept when the field is left', async () => {
    const sent = serverThat(supplies('director'));
    show(<SuppliesStep />);
    const field = await screen.findByLabelText('In store, Tape');
    fireEvent.change(field, { target: { value: '-1' } });
    fireEvent.blur(field);
    expect(sent.some(({ method }) => method === 'PUT')).toBe(false);
    fireEvent.change(field, { target: { value: '7,5' } });
    fireEvent.blur(field);
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toEqual({ key: 'tape', quantity: 7.5 }),
    );
  });

  it('are read, not counted, by an assistant', async () => {
    serverThat(supplies('assistant'));
    show(<SuppliesStep />);
    await screen.findByText('Bows for violas');
    expect(screen.queryByLabelText('In store, Tape')).toBeNull();
    expect(screen.getByText('6.6 m')).toBeTruthy();
  });
});
