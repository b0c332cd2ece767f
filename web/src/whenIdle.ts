/** Calls when the page has nothing else to do; after two seconds at the latest. Safari knows no idle time: there it calls at once. */
export function whenIdle(call: () => void): void {
  if ('requestIdleCallback' in window) window.requestIdleCallback(call, { timeout: 2_000 });
  else call();
}
