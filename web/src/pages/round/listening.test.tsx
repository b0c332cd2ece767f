import { cleanup, fireEvent, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Over } from '../../core/hearing';
import { answerWith } from '../../testing/network';
import { ear, OFF } from '../../testing/ear';
import { serverThat, show } from '../../testing/server';
import { HearMarker } from './HearMarker';
import { VisitEar } from './VisitEar';

vi.mock('../../parts/useEar', () => import('../../testing/ear'));

beforeEach(() => {
  ear.now = OFF;
  serverThat({
    'GET /rules': () => ({
      json: {
        rules: {},
        strings: [
          {
            instrument: 'cello',
            strings: ['C2', 'G2', 'D3', 'A3'].map((note, at) => ({
              note,
              hz: [65, 98, 147, 220][at],
              fingers: [1, 2, 3, 4].map((finger) => ({ finger, hz: 100 + finger })),
            })),
          },
        ],
      },
    }),
  });
});
afterEach(() => {
  cleanup();
  answerWith(undefined);
  vi.clearAllMocks();
});

describe('listening at a child’s chair', () => {
  it('notes what was heard only with a tap, with its number', async () => {
    const rings: Over = {
      at: 1,
      seconds: 1,
      kind: 'pluck',
      hz: 147,
      confidence: 0.9,
      ringSeconds: 1.42,
      verdict: 'rings',
      open: 2,
      openRingSeconds: 1.42,
    };
    ear.now = { ...OFF, state: 'live', over: [rings], run: undefined };
    const onNote = vi.fn();
    show(<VisitEar instrument="cello" onNote={onNote} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Note it' }));
    expect(onNote).toHaveBeenCalledWith('It rings: 1.42 s. By ear of the microphone.');
  });

  it('offers nothing to note where nobody can say', async () => {
    ear.now = { ...OFF, state: 'live', over: [], run: undefined };
    show(<VisitEar instrument="cello" onNote={vi.fn()} />);
    await screen.findByRole('group', { name: 'Does it ring, how is the tone' });
    expect(screen.queryByRole('button', { name: 'Note it' })).toBeNull();
  });

  it('hears a marker beside the open string, and hands its cents on once', async () => {
    const onHeard = vi.fn();
    show(<HearMarker instrument="cello" spots={['1', '4', 'thumb']} onHeard={onHeard} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Hear one by the microphone' }));
    fireEvent.click(screen.getByRole('radio', { name: '4' }));
    fireEvent.click(screen.getByRole('button', { name: 'Hear marker 4' }));
    expect(ear.turnOn).toHaveBeenCalledWith({
      instrument: 'cello',
      task: 'run',
      notes: [
        { hz: 98, finger: 0 },
        { hz: 104, finger: 4 },
      ],
    });
    cleanup();
    ear.now = {
      ...OFF,
      state: 'live',
      over: [],
      run: { cents: [2, -11.6], pattern: undefined, finger: 0, off: 0 },
    };
    show(<HearMarker instrument="cello" spots={['1']} onHeard={onHeard} />);
    fireEvent.click(await screen.findByRole('button', { name: 'Hear one by the microphone' }));
    const group = screen.getByRole('group', { name: 'By the microphone, marker 1' });
    expect(within(group).getByRole('status').textContent).toBe('Marker 1: 12 cents low.');
    expect(onHeard).not.toHaveBeenCalled();
    fireEvent.click(within(group).getByRole('button', { name: 'Save −12 cents' }));
    fireEvent.click(within(group).getByRole('button', { name: 'Saved −12 cents' }));
    expect(onHeard.mock.calls).toEqual([['1', -12]]);
  });

  it('has no marker to hear where none is on that a finger of the run stops', async () => {
    show(<HearMarker instrument="cello" spots={['thumb']} onHeard={vi.fn()} />);
    await vi.waitFor(() => expect(screen.queryByRole('button')).toBeNull());
  });
});
