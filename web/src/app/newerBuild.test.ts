import { afterEach, expect, test, vi } from 'vitest';
import { followNewerBuild, partOf } from './newerBuild';

let stop: () => void = () => undefined;
afterEach(() => {
  stop();
  document.body.replaceChildren();
});

/** A note with a text that somebody types. */
function type(text: string): HTMLTextAreaElement {
  const note = document.body.appendChild(document.createElement('textarea'));
  note.value = text;
  note.dispatchEvent(new Event('input', { bubbles: true }));
  return note;
}

const missing = () => window.dispatchEvent(new Event('vite:preloadError'));

test('a page where nobody types is loaded again at once, and nothing that was loaded ahead loads it', () => {
  const reload = vi.fn();
  let ahead = true;
  stop = followNewerBuild(() => ahead, reload);
  missing();
  expect(reload).not.toHaveBeenCalled();
  ahead = false;
  type('').remove();
  missing();
  expect(reload).toHaveBeenCalledOnce();
});

test('what somebody is typing stays, and the part that is missing is waited for', async () => {
  const reload = vi.fn();
  stop = followNewerBuild(() => false, reload);
  const note = type('the thumb bends again');
  missing();
  expect(reload).not.toHaveBeenCalled();
  expect(note.value).toBe('the thumb bends again');
  const part = partOf(() => Promise.reject(new Error('gone')));
  const waited = await Promise.race([part, Promise.resolve('still waiting')]);
  expect(waited).toBe('still waiting');
});

test('a part that does not come for another reason fails as before', async () => {
  stop = followNewerBuild(() => false, vi.fn());
  await expect(partOf(() => Promise.reject(new Error('no network')))).rejects.toThrow('no network');
});
