import { cleanup, screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { answerWith } from '../../testing-network';
import { serverThat, show } from '../../testing-server';
import { LessonsPlace } from './LessonsPlace';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const ada = { id: 'ada', name: 'Ada K.', instrument: 'violin' as const };
const ben = { id: 'ben', name: 'Ben O.', instrument: 'cello' as const };

const holder: Schemas['HolderView'] = {
  checkpoint: 'hold.tall',
  name: 'Tall and level',
  strand: 'hold',
  stageName: 'Hold 3, Raise',
  below: [ada],
  unseen: [ben],
};

const reading: Schemas['ClassReading'] = {
  children: 2,
  holders: [holder],
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
          atStages: [
            { number: 3, name: 'Raise', children: 1 },
            { name: 'all done', children: 0 },
          ],
          holder,
        },
      ],
    },
  ],
};

async function open(json: Schemas['ClassReading']) {
  serverThat({ 'GET /reading': () => ({ json }) });
  show(<LessonsPlace />);
  await screen.findByRole('heading', { name: 'Lessons' });
}

describe('the class read as a whole', () => {
  it('says what holds it back, with whom', async () => {
    await open(reading);
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
    await open(reading);
    const group = await screen.findByRole('region', { name: 'String pulled up, 2 children' });
    expect(group.textContent).toContain('Draw it sideways');
    expect(within(group).getAllByRole('link')).toHaveLength(2);
  });

  it('stands by section and strand', async () => {
    await open(reading);
    const row = (await screen.findAllByRole('row'))[1];
    expect(row?.textContent).toContain('1 at Raise');
    expect(row?.textContent).toContain('waits at Tall and level (2)');
  });

  it('says what to do first in an empty class', async () => {
    await open({ ...reading, children: 0, holders: [], groups: [], sections: [] });
    expect(await screen.findByText(/Nobody is in this class yet/)).toBeTruthy();
  });
});
