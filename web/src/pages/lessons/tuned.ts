import { useSyncExternalStore } from 'react';

/*
 * Whose instrument was tuned today, for as long as this page is open: nothing of it is stored. A class is tuned anew each lesson.
 */

const tuned = new Map<string, ReadonlySet<string>>();
const listeners = new Set<() => void>();
const NOBODY: ReadonlySet<string> = new Set();

const keyOf = (classId: string) => `${classId} ${new Date().toDateString()}`;

function set(classId: string, children: ReadonlySet<string>): void {
  tuned.set(keyOf(classId), children);
  listeners.forEach((listener) => listener());
}

/** Whose strings are in tune in this class, and how that changes. */
export function useTuned(classId: string) {
  const done = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => tuned.get(keyOf(classId)) ?? NOBODY,
  );
  return {
    done,
    tune: (child: string) => set(classId, new Set([...done, child])),
    again: (child: string) => set(classId, new Set([...done].filter((one) => one !== child))),
    afresh: () => set(classId, NOBODY),
  };
}
