import { lazy, useSyncExternalStore, type ComponentType, type LazyExoticComponent } from 'react';

/** What somebody has typed into on this page. */
const typedInto = new Set<HTMLInputElement | HTMLTextAreaElement>();
const listeners = new Set<() => void>();
/** A part is missing that only the newer build has, and somebody is typing. */
let waits = false;

function noteTyping({ target }: Event): void {
  if (target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement) typedInto.add(target);
}

/** Whether something typed would be lost if the page were loaded again. */
function typing(): boolean {
  for (const field of typedInto) if (!field.isConnected) typedInto.delete(field);
  return [...typedInto].some(({ value }) => value !== '');
}

/**
 * A part of the pages that a newer build no longer has: the newer build is there by now, so the page is loaded again, at once where
 * nobody is typing, and where somebody is when they say so. `ahead` says that nobody waits for the part.
 */
export function followNewerBuild(ahead: () => boolean, reload = () => window.location.reload()): () => void {
  const missing = () => {
    if (ahead()) return;
    if (!typing()) {
      reload();
      return;
    }
    waits = true;
    listeners.forEach((tell) => tell());
  };
  document.addEventListener('input', noteTyping);
  window.addEventListener('vite:preloadError', missing);
  return () => {
    document.removeEventListener('input', noteTyping);
    window.removeEventListener('vite:preloadError', missing);
    waits = false;
    typedInto.clear();
  };
}

/** Loads a part of the pages; while a newer build waits for somebody's word, what is open stays as it is. */
export async function partOf<T>(load: () => Promise<T>): Promise<T> {
  try {
    return await load();
  } catch (error) {
    if (waits) return new Promise<never>(() => undefined);
    throw error;
  }
}

/** A component of a part that is loaded when it is first shown. */
export function lazyPart<P extends object>(
  load: () => Promise<ComponentType<P>>,
): LazyExoticComponent<ComponentType<P>> {
  return lazy(async () => ({ default: await partOf(load) }));
}

/** Whether a newer build waits for somebody's word. */
export function useNewerBuild(): boolean {
  const subscribe = (tell: () => void) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  };
  return useSyncExternalStore(subscribe, () => waits);
}
