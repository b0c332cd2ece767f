import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { queryClient } from '../../api/queries';
import { drillOf } from '../../testing/drills';
import { answerWith } from '../../testing/network';
import { classesAs, director, done, serverThat, show } from '../../testing/server';
import { commonText, flipInstrument, flipLevel, flipOnly, isPlayed, newDrill, wordsOf } from './drillDraft';
import { DrillsPart } from './DrillsPart';

afterEach(() => {
  cleanup();
  answerWith(undefined);
  queryClient.clear();
});

const statue = drillOf('statue', 'Statue and rest', 'I find my place');
const rain = drillOf('own-rain', 'Rain', 'I hear the rain', {
  strand: 'bow',
  on: ['cello'],
  after: 'hold.1',
});
const drills: Schemas['EditedDrill'][] = [
  { drill: { ...statue, name: 'Trees' }, shared: statue, own: false, off: true, version: 'v1' },
  {
    drill: { ...rain, steps: [{ beats: 4, text: { cello: 'Tap' } }] },
    own: true,
    off: false,
    version: 'v2',
  },
];
const stage: Schemas['EditedStage'] = {
  id: 'hold.1',
  strand: 'hold',
  strandName: 'Hold',
  number: 1,
  name: 'Fit',
  checkpoints: [],
};
const answers = {
  'PUT /drills/statue': done,
  'DELETE /drills/own-rain': done,
  'GET /api/classes': director,
  'GET /drills': () => ({ json: { drills } }),
  'GET /checklist': () => ({ json: { stages: [stage], changed: 0 } }),
};

const open = async (name: string) => {
  fireEvent.click(await screen.findByRole('button', { name }));
  return within(await screen.findByRole('dialog'));
};

describe('the drills of a class', () => {
  it('say whose they are and what was done to them', async () => {
    serverThat(answers);
    show(<DrillsPart />);
    const hold = await screen.findByRole('region', { name: 'Hold' });
    expect(hold.textContent).toContain('60 beats a minute, 1 round, in the class’s words, switched off');
    expect(screen.getByRole('region', { name: 'Bow grip' }).textContent).toContain(
      'Cello only, added by the class',
    );
  });

  it('are switched on again and go back to how they ship', async () => {
    const sent = serverThat(answers);
    show(<DrillsPart />);
    const dialog = await open('Change Trees');
    fireEvent.click(dialog.getByRole('button', { name: 'Switch on' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.find(({ method }) => method === 'PUT')?.body).toMatchObject({
      off: false,
      drill: { name: 'Trees' },
    });
    const again = await open('Change Trees');
    fireEvent.click(again.getByRole('button', { name: 'As it ships' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.filter(({ method }) => method === 'PUT')[1]?.body).toEqual({ off: true });
  });

  it('take one more, with what cannot be said beside its field', async () => {
    const problem = {
      type: '/problems/not-valid',
      title: '',
      status: 422,
      detail: 'Nothing was changed.',
      errors: [{ field: 'steps.0.beats', detail: 'A step takes 1 to 32 beats.' }],
    };
    const sent = serverThat({ ...answers, 'POST /drills': () => ({ status: 422, json: problem }) });
    show(<DrillsPart />);
    const dialog = await open('Add a drill');
    fireEvent.change(dialog.getByLabelText('Name'), { target: { value: 'Rocking' } });
    fireEvent.click(dialog.getByRole('button', { name: 'Bass' }));
    const first = within(dialog.getByRole('region', { name: 'Step 1' }));
    fireEvent.change(first.getByLabelText('Beats'), { target: { value: '99' } });
    fireEvent.change(first.getByLabelText('For everybody'), { target: { value: 'Rock it' } });
    fireEvent.click(first.getByRole('button', { name: 'Each instrument apart' }));
    fireEvent.change(first.getByLabelText('Cello'), { target: { value: 'Rock the cello' } });
    fireEvent.change(first.getByLabelText('Spoken, a word a beat'), {
      target: { value: ' rain  driz-zle ' },
    });
    fireEvent.click(dialog.getByRole('button', { name: 'Add a step' }));
    fireEvent.click(dialog.getByRole('button', { name: 'Leave out step 2' }));
    fireEvent.click(dialog.getByRole('button', { name: 'Save' }));
    expect((await dialog.findAllByText('A step takes 1 to 32 beats.')).length).toBeGreaterThan(0);
    expect(sent.find(({ method }) => method === 'POST')?.body).toMatchObject({
      drill: {
        name: 'Rocking',
        on: ['violin', 'viola', 'cello'],
        steps: [
          {
            beats: 99,
            load: true,
            say: ['rain', 'driz-zle'],
            text: { violin: 'Rock it', viola: 'Rock it', cello: 'Rock the cello' },
          },
          { beats: 4, text: { violin: '', viola: '', cello: '' } },
        ],
      },
    });
  });

  it('lose one of the class’s own, and are only read by an assistant', async () => {
    const sent = serverThat(answers);
    show(<DrillsPart />);
    const dialog = await open('Change Rain');
    fireEvent.click(dialog.getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(sent.find(({ method }) => method === 'DELETE')?.path).toBe('/drills/own-rain');
    cleanup();
    queryClient.clear();
    serverThat({ ...answers, 'GET /api/classes': classesAs('assistant') });
    show(<DrillsPart />);
    await screen.findByRole('region', { name: 'Hold' });
    expect(screen.queryByRole('button', { name: /Change|Add/ })).toBeNull();
  });
});

describe('a drill that is being written', () => {
  it('has a text for exactly its instruments', () => {
    const without = flipInstrument(flipInstrument(newDrill(), 'violin'), 'bass');
    expect(without.on).toEqual(['viola', 'cello']);
    for (const { text } of without.steps) expect(Object.keys(text)).toEqual(['viola', 'cello']);
    expect(flipInstrument(without, 'bass').steps[1]?.text).toEqual({
      viola: 'Rest and shake out',
      cello: 'Rest and shake out',
      bass: 'Rest and shake out',
    });
  });

  it('reads alike or apart, and takes words as they are typed', () => {
    const [step] = newDrill().steps;
    expect(step && commonText(step)).toBe('');
    expect(step && commonText({ ...step, text: { violin: 'a', bass: 'b' } })).toBeUndefined();
    expect(wordsOf('  pear ap-ple\n plum ')).toEqual(['pear', 'ap-ple', 'plum']);
  });
});

describe('levels of a drill', () => {
  it('are kept in their order, and a step is for those that are chosen', () => {
    const both = flipLevel(flipLevel(newDrill(), 'joined'), 'rests');
    expect(both.levels).toEqual(['rests', 'joined']);
    const step = flipOnly(both.steps[0] ?? { beats: 4, text: {} }, 'joined', both.levels ?? []);
    expect(step.only).toEqual(['rests']);
    expect([isPlayed(step, 'rests'), isPlayed(step, 'joined')]).toEqual([true, false]);
    const alone = flipLevel({ ...both, steps: [step] }, 'rests');
    expect(alone.levels).toEqual(['joined']);
    expect(alone.steps[0]?.only).toEqual([]);
    expect(isPlayed({ beats: 4, quiet: true, text: {} }, 'bowed')).toBe(false);
  });

  it('are set in the form, step by step, and sent', async () => {
    const sent = serverThat({ ...answers, 'PUT /drills/own-rain': done });
    show(<DrillsPart />);
    const dialog = await open('Change Rain');
    for (const level of ['With rests', 'With the bow'])
      fireEvent.click(
        within(dialog.getByRole('group', { name: 'Played' })).getByRole('button', { name: level }),
      );
    const step = within(dialog.getByRole('group', { name: 'When step 1 is played' }));
    fireEvent.click(step.getByRole('button', { name: 'A rest in the music' }));
    fireEvent.click(step.getByRole('button', { name: 'With the bow' }));
    fireEvent.click(dialog.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(sent.find(({ method }) => method === 'PUT')?.body).toMatchObject({
        drill: { levels: ['rests', 'bowed'], steps: [{ quiet: true, only: ['rests', 'bowed'] }] },
      }),
    );
  });
});
