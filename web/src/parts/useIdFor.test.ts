import { renderHook } from '@testing-library/react';
import { expect, it } from 'vitest';
import { useIdFor } from './useIdFor';

it('is the same for the same until that is done, and another one for anything else', () => {
  const { result, rerender } = renderHook(() => useIdFor());
  const first = result.current.idFor({ armMm: 520 });
  const other = result.current.idFor({ armMm: 523 });
  rerender();
  expect(other).not.toBe(first);
  expect(result.current.idFor({ armMm: 520 })).toBe(first);
  expect(result.current.idFor({ armMm: 523 })).toBe(other);
  result.current.done();
  expect(result.current.idFor({ armMm: 520 })).not.toBe(first);
});
