import { describe, expect, it } from 'vitest';
import { fromMm, length, toMm, rulerWords } from './units';

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
    expect(length(35.827, 'mm')).toBe('35.8 mm');
    expect(length(327.8, 'in')).toBe('12.91 in');
  });
});

describe('positions along a string', () => {
  it('are typed in 32nds of an inch as well', () => {
    expect(toMm('12 29/32', 'in')).toBe(327.8);
    expect(toMm('1 13/32', 'in')).toBe(35.7);
    expect(toMm('29/32', 'in')).toBe(23);
    expect(toMm('1/0', 'in')).toBeUndefined();
    expect(toMm('12 29', 'in')).toBeUndefined();
  });

  it('are shown as a ruler shows them', () => {
    expect(rulerWords(34.25, 'mm')).toBe('34.3 mm');
    expect(rulerWords(35.7, 'in')).toBe('1 13/32 in');
    expect(rulerWords(25.4, 'in')).toBe('1 in');
    expect(rulerWords(12.7, 'in')).toBe('1/2 in');
    expect(rulerWords(-0.8, 'in')).toBe('−1/32 in');
  });
});
