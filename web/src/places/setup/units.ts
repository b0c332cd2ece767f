import { useSyncExternalStore } from 'react';
import type { MeasureKey } from '../../api/client';

export type Unit = 'mm' | 'in';

const KEY = 'bright-row.unit';
const MM_PER_INCH = 25.4;
const listeners = new Set<() => void>();

/** Millimetres or inches, as this device last chose. */
export function useUnit(): [unit: Unit, set: (unit: Unit) => void] {
  const unit = useSyncExternalStore<Unit>(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => (localStorage.getItem(KEY) === 'in' ? 'in' : 'mm'),
  );
  const set = (next: Unit) => {
    localStorage.setItem(KEY, next);
    listeners.forEach((listener) => {
      listener();
    });
  };
  return [unit, set];
}

/** What was typed, in millimetres to one place; `undefined` for nothing or for what is no number. */
export function toMm(typed: string, unit: Unit): number | undefined {
  const number = Number(typed.trim().replace(',', '.'));
  if (typed.trim() === '' || !Number.isFinite(number)) return undefined;
  return Math.round(number * (unit === 'in' ? MM_PER_INCH : 1) * 10) / 10;
}

/** A length as it is typed and shown: whole millimetres, or inches to the quarter of a tenth. */
export function fromMm(mm: number | undefined, unit: Unit): string {
  if (mm === undefined) return '';
  return unit === 'in' ? String(Math.round((mm / MM_PER_INCH) * 100) / 100) : String(mm);
}

/** A length with its unit. */
export function length(mm: number, unit: Unit): string {
  return `${fromMm(mm, unit)} ${unit}`;
}

export const MEASURES: Record<MeasureKey, { name: string; how: string }> = {
  armMm: { name: 'Arm', how: 'Outstretched: side of the neck to the middle of the palm' },
  heightMm: { name: 'Height', how: 'Standing, shoes off' },
  spanMm: { name: 'Finger span', how: 'Stretched: tip of finger 1 to tip of finger 4' },
  kneeMm: { name: 'Knee', how: 'Floor to the crease behind the knee' },
  lipMm: { name: 'Lips', how: 'Floor to the lips, standing' },
  foreheadMm: { name: 'Forehead', how: 'Floor to the forehead, standing' },
};
