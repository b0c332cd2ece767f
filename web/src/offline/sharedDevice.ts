/** Whether this device is set as one that many people use: it keeps nothing of a class but what waits to be sent. */
const SHARED = 'bright-row.shared';
const OURS = 'bright-row';

export function isShared(): boolean {
  try {
    return localStorage.getItem(SHARED) === 'yes';
  } catch {
    // A browser that keeps nothing keeps nothing of this either.
    return false;
  }
}

/** After somebody signed out of a shared device nothing of them stays, not even how they like their pages. */
export function forgetSettings(): void {
  if (!isShared()) return;
  for (const key of Object.keys(localStorage)) {
    if (key.startsWith(OURS) && key !== SHARED) localStorage.removeItem(key);
  }
  localStorage.removeItem('mui-mode');
  sessionStorage.clear();
}
