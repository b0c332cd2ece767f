import { afterEach, describe, expect, it, vi } from 'vitest';
import { afterPicture } from './afterPicture';

afterEach(() => {
  vi.restoreAllMocks();
  vi.useRealTimers();
});

/** The next pictures, drawn when the test says so. */
function pictures() {
  const asked: FrameRequestCallback[] = [];
  vi.spyOn(window, 'requestAnimationFrame').mockImplementation((call) => asked.push(call));
  return () => {
    for (const call of asked.splice(0)) call(0);
  };
}

describe('what waits for the next picture', () => {
  it('is called once it is drawn, in order', () => {
    vi.useFakeTimers();
    const draw = pictures();
    const called: number[] = [];
    afterPicture(() => called.push(1));
    afterPicture(() => called.push(2));
    expect(called).toEqual([]);
    draw();
    vi.runAllTimers();
    expect(called).toEqual([1, 2]);
    afterPicture(() => called.push(3));
    draw();
    vi.runAllTimers();
    expect(called).toEqual([1, 2, 3]);
  });

  it('is called at once, and once only, when the page is about to go', () => {
    vi.useFakeTimers();
    const draw = pictures();
    const called: number[] = [];
    afterPicture(() => called.push(1));
    window.dispatchEvent(new Event('pagehide'));
    expect(called).toEqual([1]);
    draw();
    vi.runAllTimers();
    expect(called).toEqual([1]);
  });

  it('is called at once in a page that nobody sees', () => {
    vi.spyOn(document, 'hidden', 'get').mockReturnValue(true);
    const called: number[] = [];
    afterPicture(() => called.push(1));
    expect(called).toEqual([1]);
  });
});
