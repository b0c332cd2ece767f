/** What waits for the next picture. */
const waiting = new Set<() => void>();

function callAll(): void {
  const calls = [...waiting];
  waiting.clear();
  for (const call of calls) call();
}

/**
 * Calls once the next picture is drawn, so that a tap is seen before it is kept and sent. At once where nothing is drawn: in a
 * hidden page, or in one that is about to go.
 */
export function afterPicture(call: () => void): void {
  if (typeof document === 'undefined' || document.hidden) {
    call();
    return;
  }
  waiting.add(call);
  if (waiting.size > 1) return;
  window.addEventListener('pagehide', callAll, { once: true });
  window.requestAnimationFrame(() => window.setTimeout(callAll, 0));
}
