import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing/network';
import { serverThat, show } from '../../testing/server';
import { TakeOverPart } from './TakeOver';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
  vi.restoreAllMocks();
});

const handed: Schemas['HandoverView'] = {
  digest: 'd1',
  name: 'Harbour strings',
  madeAt: '2026-11-20T10:00:00Z',
  children: [
    { id: 'ada', name: 'Ada K.', instrument: 'violin', observations: 12 },
    { id: 'ben', name: 'Ben O.', instrument: 'cello', observations: 1 },
  ],
};

it('shows who is in the file, and takes in those whose families agree', async () => {
  const sent = serverThat({ 'POST /api/programs/p1/handover': () => ({ json: handed }) });
  show(<TakeOverPart />, '/school/:programId/classes/taken', '/school/p1/classes/taken');
  const input = screen.getByLabelText('Choose the file (.zip)');
  fireEvent.change(input, { target: { files: [new File(['zip'], 'class-archive.zip')] } });
  const agreed = await screen.findByRole('group', { name: 'Who comes' });
  expect(within(agreed).getByLabelText('Ada K., 12 looks')).toBeTruthy();
  fireEvent.click(within(agreed).getByLabelText('Ben O., 1 look'));
  expect(sent).toHaveLength(1);
  expect(sent[0]?.query.get('digest'), 'it is only shown').toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Take in 1 child' }));
  expect(await screen.findByText(/Harbour strings is here now/)).toBeTruthy();
  await waitFor(() => expect(sent).toHaveLength(2));
  expect(sent[1]?.query.get('digest')).toBe('d1');
  expect(sent[1]?.query.get('children')).toBe('ada');
  expect(screen.getByRole('link', { name: 'Open it' }).getAttribute('href')).toBe(
    `/class/${sent[1]?.query.get('class')}/room`,
  );
});

it('says why a file cannot be used, and keeps nothing', async () => {
  serverThat({
    'POST /api/programs/p1/handover': () => ({
      status: 422,
      json: {
        type: 'about:blank',
        title: 'Some fields cannot be',
        status: 422,
        detail: 'This archive cannot be used: it is no zip.',
        errors: [{ field: 'file', detail: 'This archive cannot be used: it is no zip.' }],
      },
    }),
  });
  show(<TakeOverPart />, '/school/:programId/classes/taken', '/school/p1/classes/taken');
  const input = screen.getByLabelText('Choose the file (.zip)');
  fireEvent.change(input, { target: { files: [new File(['what'], 'class-archive.zip')] } });
  expect((await screen.findByRole('alert')).textContent).toContain('it is no zip');
  expect(screen.queryByRole('button', { name: /^Take in/ })).toBeNull();
});
