/** Lets the pages open without network; a browser without such a worker needs it. */
export function registerWorker(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  void navigator.serviceWorker.register('/sw.js').catch(() => undefined);
}
