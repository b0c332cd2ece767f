import { registerWorker } from '../offline/worker';
import { whenIdle } from '../whenIdle';

/* Parts that the first picture does without, and that one tap opens. */

export const childPanel = () => import('../pages/child/ChildPanel');
export const keysHelp = () => import('./KeysHelp');
export const moreMenu = () => import('./MoreMenu');
export const signOutDialog = () => import('./SignOutDialog');

/** While they are loaded ahead nobody waits for them. */
let ahead = false;
export const loadsAhead = () => ahead;

/**
 * Loads them before somebody taps, once the page is drawn and idle, and lets the browser keep all pages. One that does not come is
 * asked for again by the tap.
 */
export function loadSoon(): void {
  whenIdle(() => {
    ahead = true;
    void Promise.allSettled([childPanel, keysHelp, moreMenu, signOutDialog].map((load) => load())).then(
      () => {
        ahead = false;
        registerWorker();
      },
    );
  });
}
