import { act, renderHook } from '@testing-library/react';
import { expect, it } from 'vitest';
import { useDraft } from './useDraft';

function draftOf(kept: string, version: string) {
  return renderHook(({ document, now }) => useDraft(document, now), {
    initialProps: { document: kept, now: version },
  });
}

it('follows what is kept until something is changed, and then stays based on that', () => {
  const { result, rerender } = draftOf('a', 'one');
  rerender({ document: 'b', now: 'two' });
  expect(result.current).toMatchObject({ value: 'b', basedOn: 'two', changed: false });
  act(() => result.current.change('mine'));
  rerender({ document: 'c', now: 'three' });
  expect(result.current).toMatchObject({ value: 'mine', basedOn: 'two', changed: true });
  act(() => result.current.drop());
  expect(result.current).toMatchObject({ value: 'c', basedOn: 'three', changed: false });
});

it('keeps what was changed while an earlier state was on its way', () => {
  const { result, rerender } = draftOf('a', 'one');
  act(() => result.current.change('sent'));
  act(() => result.current.change('typed meanwhile'));
  rerender({ document: 'sent', now: 'two' });
  act(() => result.current.saved('sent'));
  expect(result.current).toMatchObject({ value: 'typed meanwhile', basedOn: 'two', changed: true });
  act(() => result.current.change('typed on'));
  rerender({ document: 'other', now: 'three' });
  expect(result.current.basedOn).toBe('two');
  act(() => result.current.saved('typed on'));
  expect(result.current).toMatchObject({ value: 'other', basedOn: 'three', changed: false });
});
