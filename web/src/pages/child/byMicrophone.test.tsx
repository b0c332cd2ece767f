import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Cause, Schemas } from '../../api/client';
import type { Over } from '../../core/hearing';
import { answerWith } from '../../testing/network';
import { ear, OFF } from '../../testing/ear';
import { serverThat, show } from '../../testing/server';
import { SymptomsDialog } from './SymptomsDialog';
import type { Observing } from './useObserving';

vi.mock('../../parts/useEar', () => import('../../testing/ear'));

beforeEach(() => {
  ear.now = OFF;
});
afterEach(() => {
  cleanup();
  answerWith(undefined);
  vi.clearAllMocks();
});

const thud: Over = {
  at: 1,
  seconds: 0.4,
  kind: 'pluck',
  hz: 494,
  confidence: 0.9,
  ringSeconds: 0.08,
  verdict: 'thud',
  open: -1,
  openRingSeconds: 0.62,
};

const symptom = (id: string, name: string, byEar: Schemas['ByEar'][]): Schemas['SymptomView'] => ({
  id,
  name,
  how: 'hear',
  asks: [],
  byEar,
  normal: false,
});
const cause: Cause = {
  id: 'flat-finger',
  name: 'Finger half down',
  side: 'child',
  score: 3,
  symptoms: ['Thud where a ring should be'],
  because: [],
  against: [],
  leadsTo: [],
  help: 'Tap the tip down',
  checkpoint: { id: 'frame.land', name: 'Fingers land', level: 2 },
  slip: 'flat-finger',
};

async function open() {
  const sent = serverThat({
    'GET /rules': () => ({
      json: {
        rules: {},
        strings: [
          {
            instrument: 'violin',
            strings: ['G3', 'D4', 'A4', 'E5'].map((note, at) => ({
              note,
              hz: [196, 294, 440, 659][at],
              fingers: [1, 2, 3].map((finger) => ({ finger, hz: 300 + finger })),
            })),
          },
        ],
      },
    }),
    'GET /children/ada/causes': ({ query }) => ({
      json: {
        symptoms: [
          symptom('thud', 'Thud where a ring should be', ['thud', 'short']),
          symptom('two-low', 'High 2 sounds low', ['second-low']),
          symptom('one-off', 'One finger off', ['one-off']),
        ],
        causes: (query.get('symptoms') ?? '').includes('thud') ? [cause] : [],
      },
    }),
  });
  const tick = vi.fn<Observing['tick']>();
  show(
    <SymptomsDialog
      classId="c1"
      child={{ id: 'ada', name: 'Ada K.', instrument: 'violin' }}
      observing={{ tick, undoLast: vi.fn() } as unknown as Observing}
      onClose={vi.fn()}
      onGo={vi.fn()}
    />,
  );
  await screen.findByText('Tap one or more; causes come as you tap.');
  fireEvent.click(screen.getByRole('button', { name: 'Listen' }));
  const microphone = await screen.findByRole('group', { name: 'By the microphone' });
  return { sent, tick, microphone };
}

describe('what the microphone hears of a child’s instrument', () => {
  it('is proposed as a symptom, taken with a tap, and recorded with its number', async () => {
    ear.now = { ...OFF, state: 'live', over: [thud], run: undefined };
    const { sent, tick, microphone } = await open();
    expect(within(microphone).getByRole('status').textContent).toBe(
      'A thud: 0.08 s; the open string rings 0.62 s.',
    );
    // Nothing is taken by itself.
    expect(sent.every(({ query }) => (query.get('symptoms') ?? '') === '')).toBe(true);
    fireEvent.click(within(microphone).getByRole('button', { name: 'Thud where a ring should be' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Record it, Fingers land at Prompted' }));
    expect(tick).toHaveBeenCalledWith(
      cause,
      'A thud: 0.08 s; the open string rings 0.62 s. By ear of the microphone.',
    );
  });

  it('goes without a number where the symptom was picked by hand', async () => {
    const { tick } = await open();
    fireEvent.click(screen.getByRole('button', { name: 'Thud where a ring should be' }));
    fireEvent.click(await screen.findByRole('button', { name: /^Record it/ }));
    expect(tick).toHaveBeenCalledWith(cause, undefined);
  });

  it('is a whole hand, finger by finger beside the open string', async () => {
    const { microphone } = await open();
    fireEvent.click(within(microphone).getByRole('radio', { name: 'The hand, finger by finger' }));
    fireEvent.click(within(microphone).getByRole('radio', { name: 'A' }));
    fireEvent.click(within(microphone).getByRole('button', { name: 'Listen to the hand on A' }));
    expect(ear.turnOn).toHaveBeenCalledWith({
      instrument: 'violin',
      task: 'run',
      notes: [
        { hz: 440, finger: 0 },
        { hz: 301, finger: 1 },
        { hz: 302, finger: 2 },
        { hz: 303, finger: 3 },
      ],
    });
    cleanup();
    ear.now = {
      ...OFF,
      state: 'live',
      over: [],
      run: { cents: [0, 2, -45, 2], pattern: 'one-off', finger: 2, off: -47 },
    };
    const again = await open();
    fireEvent.click(within(again.microphone).getByRole('radio', { name: 'The hand, finger by finger' }));
    await waitFor(() =>
      expect(within(again.microphone).getByRole('status').textContent).toContain('Finger 2 is 47 cents low'),
    );
    const proposed = within(again.microphone).getByText('Take it as').parentElement as HTMLElement;
    expect(
      within(proposed)
        .getAllByRole('button')
        .map(({ textContent }) => textContent),
    ).toEqual(['High 2 sounds low', 'One finger off']);
  });
});
