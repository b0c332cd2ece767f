import { afterEach, expect, it, vi } from 'vitest';
import { whenIdle } from './whenIdle';

afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

it('waits for the picture, then until nothing else is to be done', () => {
  vi.useFakeTimers();
  const frames: FrameRequestCallback[] = [];
  vi.spyOn(window, 'requestAnimationFrame').mockImplementation((call) => frames.push(call));
  const idle: (() => void)[] = [];
  vi.stubGlobal('requestIdleCallback', (call: () => void) => idle.push(call));
  const called = vi.fn();
  whenIdle(called);
  expect(idle).toEqual([]);
  frames.forEach((call) => call(0));
  vi.runAllTimers();
  expect(idle).toHaveLength(1);
  expect(called).not.toHaveBeenCalled();
  idle[0]?.();
  expect(called).toHaveBeenCalledOnce();
});

it('is called after the picture where a browser knows no idle time', () => {
  vi.useFakeTimers();
  vi.spyOn(window, 'requestAnimationFrame').mockImplementation((call) => {
    call(0);
    return 1;
  });
  const called = vi.fn();
  whenIdle(called);
  expect(called).not.toHaveBeenCalled();
  vi.runAllTimers();
  expect(called).toHaveBeenCalledOnce();
});
