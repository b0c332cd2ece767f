import { afterPicture } from './afterPicture';

/**
 * Calls when the next picture is drawn and the page has nothing else to do; after two seconds at the latest. Safari knows no idle
 * time: there it calls after the picture.
 */
export function whenIdle(call: () => void): void {
  afterPicture(() => {
    if ('requestIdleCallback' in window) window.requestIdleCallback(call, { timeout: 2_000 });
    else call();
  });
}
