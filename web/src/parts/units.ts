import { useLocalSetting } from './useLocalSetting';

export type Unit = 'mm' | 'in';

const MM_PER_INCH = 25.4;

/** Millimetres or inches, as this device last chose. */
export function useUnit(): readonly [unit: Unit, set: (unit: Unit) => void] {
  return useLocalSetting<Unit>('unit', ['mm', 'in']);
}

/** `12 29/32`, `29/32` or `12.9`; `NaN` for anything else. */
function numberOf(typed: string): number {
  const parts = /^(?:(\d+)\s+)?(\d+)\s*\/\s*(\d+)$/.exec(typed);
  if (!parts) return typed === '' ? Number.NaN : Number(typed.replace(',', '.'));
  const [, whole = '0', above, below] = parts;
  return Number(below) > 0 ? Number(whole) + Number(above) / Number(below) : Number.NaN;
}

/** What was typed, in millimetres to one decimal; `undefined` for nothing or for what is no number. */
export function toMm(typed: string, unit: Unit): number | undefined {
  const number = numberOf(typed.trim());
  if (!Number.isFinite(number)) return undefined;
  return Math.round(number * (unit === 'in' ? MM_PER_INCH : 1) * 10) / 10;
}

/** A position along a string as a ruler shows it: tenths of a millimetre, or inches in 32nds. */
export function rulerWords(mm: number, unit: Unit): string {
  if (unit === 'mm') return `${tenths(mm).toFixed(1)} mm`;
  const all = Math.round((mm / MM_PER_INCH) * 32);
  const sign = all < 0 ? '−' : '';
  let [above, below] = [Math.abs(all) % 32, 32];
  while (above > 0 && above % 2 === 0) [above, below] = [above / 2, below / 2];
  const whole = Math.floor(Math.abs(all) / 32);
  if (above === 0) return `${sign}${whole} in`;
  return `${sign}${whole > 0 ? `${whole} ` : ''}${above}/${below} in`;
}

/** To a tenth, halves up: as the server rounds what it prints. */
export function tenths(value: number): number {
  return Math.floor(value * 10 + 0.5 + 1e-9) / 10;
}

/** A length as it is typed and shown: whole millimetres, or inches to the quarter of a tenth. */
export function fromMm(mm: number | undefined, unit: Unit): string {
  if (mm === undefined) return '';
  return unit === 'in' ? String(Math.round((mm / MM_PER_INCH) * 100) / 100) : String(mm);
}

/** A length with its unit: tenths of a millimetre, hundredths of an inch. */
export function length(mm: number, unit: Unit): string {
  return `${fromMm(tenths(mm), unit)} ${unit}`;
}
