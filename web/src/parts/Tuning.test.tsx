import { cleanup, fireEvent, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { show } from '../testing/server';
import { Tuning } from './Tuning';

const tones = vi.hoisted(() => ({
  sound: vi.fn<(hz: number, ended: () => void) => Promise<void>>(() => Promise.resolve()),
  hush: vi.fn(),
}));
vi.mock('./tones', () => tones);

afterEach(() => {
  cleanup();
  vi.clearAllMocks();
});

const tuning = [
  {
    instrument: 'violin' as const,
    strings: [
      { note: 'D4', hz: 293.66 },
      { note: 'A4', hz: 440 },
    ],
  },
  { instrument: 'bass' as const, strings: [{ note: 'G2', hz: 98 }] },
];

describe('tuning', () => {
  it('sounds one string at a time until it is stopped or has sounded out', () => {
    show(<Tuning tuning={tuning} />);
    fireEvent.click(screen.getByRole('button', { name: /^Sound A,/ }));
    expect(tones.sound).toHaveBeenLastCalledWith(440, expect.any(Function));
    fireEvent.click(screen.getByRole('button', { name: /^Sound D,/ }));
    expect(tones.sound).toHaveBeenLastCalledWith(293.66, expect.any(Function));
    expect(screen.getByRole('button', { name: /^Sound A,/ })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /^Stop D,/ }));
    expect(tones.hush).toHaveBeenCalled();
    expect(screen.getByRole('button', { name: /^Sound D,/ })).toBeTruthy();
  });

  it('says which way to turn, and to leave a bass’s machine where it sits', () => {
    show(<Tuning tuning={tuning} />);
    expect(screen.getByText(/Push the peg in while it turns/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /^Sound A,/ }));
    fireEvent.click(screen.getByRole('radio', { name: 'Bass' }));
    expect(tones.hush).toHaveBeenCalled();
    expect(screen.queryByText(/Push the peg in/)).toBeNull();
    expect(screen.getByText(/it is geared and wants no push/)).toBeTruthy();
    expect(screen.getByRole('button', { name: /^Sound G,/ })).toBeTruthy();
  });
});
