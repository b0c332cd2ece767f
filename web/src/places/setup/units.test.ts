import { describe, expect, it } from 'vitest';
import { fromMm, length, toMm } from './units';

describe('lengths', () => {
  it('are kept in millimetres whatever they are typed in', () => {
    expect(toMm('546', 'mm')).toBe(546);
    expect(toMm('21,5', 'in')).toBe(546.1);
    expect(toMm(' 54 ', 'in')).toBe(1371.6);
  });

  it('are nothing where nothing or no number was typed', () => {
    expect(['', '  ', 'tall', '1.2.3'].map((typed) => toMm(typed, 'mm'))).toEqual(
      Array.from({ length: 4 }, () => undefined),
    );
  });

  it('come back as they were typed', () => {
    for (const typed of ['21.5', '54', '4.75']) expect(fromMm(toMm(typed, 'in'), 'in')).toBe(typed);
    expect(fromMm(undefined, 'mm')).toBe('');
    expect(length(1400, 'mm')).toBe('1400 mm');
  });
});
