import { cleanup, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { theme } from '../theme';
import { useKeys } from './keys';
import { LevelKeys } from './LevelKeys';
import { OneOf } from './OneOf';
import { Toggle } from './Toggle';
import { useLocalSetting } from './useLocalSetting';

const draw = (element: React.ReactNode) => render(<ThemeProvider theme={theme}>{element}</ThemeProvider>);

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe('one of a few', () => {
  const options = [
    ['a4', 'A4'],
    ['letter', 'Letter'],
  ] as const;

  it('is a group of radios with a name, one of them chosen', () => {
    draw(<OneOf name="Paper" value="a4" options={options} onChoose={() => undefined} />);
    expect(screen.getByRole('radiogroup', { name: 'Paper' })).toBeTruthy();
    expect(screen.getByRole('radio', { name: 'A4' })).toHaveProperty('checked', true);
    expect(screen.getByRole('radio', { name: 'Letter' })).toHaveProperty('checked', false);
  });

  it('says what is chosen instead, once', () => {
    const choose = vi.fn();
    draw(<OneOf name="Paper" value="a4" options={options} onChoose={choose} />);
    fireEvent.click(screen.getByRole('radio', { name: 'A4' }));
    fireEvent.click(screen.getByRole('radio', { name: 'Letter' }));
    expect(choose.mock.calls).toEqual([['letter']]);
  });

  it('can be read but not changed', () => {
    draw(<OneOf name="Paper" value="a4" options={options} disabled onChoose={() => undefined} />);
    expect(screen.getByRole('radio', { name: 'Letter' })).toHaveProperty('disabled', true);
  });
});

describe('a toggle', () => {
  it('says whether it is on', () => {
    const flip = vi.fn();
    draw(
      <Toggle on onClick={flip}>
        Due
      </Toggle>,
    );
    const toggle = screen.getByRole('button', { name: 'Due', pressed: true });
    fireEvent.click(toggle);
    expect(flip).toHaveBeenCalledTimes(1);
  });
});

describe('the keys of a level', () => {
  it('record the same level again, and show a tap before anything follows from it', async () => {
    const observe = vi.fn();
    draw(<LevelKeys name="Rest position" level={3} onObserve={observe} />);
    fireEvent.click(screen.getByRole('button', { name: '3, Alone', pressed: true }));
    fireEvent.click(screen.getByRole('button', { name: '1, Placed', pressed: false }));
    screen.getByRole('button', { name: '1, Placed', pressed: true });
    expect(observe).not.toHaveBeenCalled();
    await waitFor(() => expect(observe.mock.calls).toEqual([[3], [1]]));
  });

  it('say what their level means, each in its turn', async () => {
    draw(<LevelKeys name="Rest position" onObserve={() => undefined} />);
    const point = (name: string) => {
      const key = screen.getByRole('button', { name });
      fireEvent.pointerOver(key);
      fireEvent.mouseOver(key);
    };
    point('4, Lasting');
    const tooltip = await screen.findByRole('tooltip');
    expect(tooltip.textContent).toBe('Lasting: kept while playing, or still there unannounced');
    point('3, Alone');
    await waitFor(() => expect(tooltip.textContent).toMatch(/^Alone: /));
  });

  it('are two where a tape is there or not, at every level in between', () => {
    draw(<LevelKeys name="Tape 1" tape level={4} onObserve={() => undefined} />);
    expect(screen.getAllByRole('button').map((key) => key.getAttribute('aria-pressed'))).toEqual([
      'false',
      'true',
    ]);
  });
});

describe('single keys', () => {
  function Page({ onKey }: { onKey: () => void }) {
    useKeys({ '?': onKey });
    return (
      <>
        <input aria-label="Note" />
        <input type="radio" aria-label="History" />
      </>
    );
  }

  it('wait while somebody types, and work again beside a choice', () => {
    const key = vi.fn();
    draw(<Page onKey={key} />);
    fireEvent.keyDown(screen.getByLabelText('Note'), { key: '?' });
    expect(key).toHaveBeenCalledTimes(0);
    fireEvent.keyDown(screen.getByLabelText('History'), { key: '?' });
    expect(key).toHaveBeenCalledTimes(1);
  });

  it('can be switched off', () => {
    localStorage.setItem('bright-row.single-keys', 'off');
    const key = vi.fn();
    draw(<Page onKey={key} />);
    fireEvent.keyDown(document.body, { key: '?' });
    expect(key).toHaveBeenCalledTimes(0);
  });
});

describe('a setting of this browser', () => {
  it('is the first value until somebody chose, and whatever else stands there is as good as nothing', () => {
    expect(renderHook(() => useLocalSetting('unit', ['mm', 'in'])).result.current[0]).toBe('mm');
    localStorage.setItem('bright-row.unit', 'furlong');
    expect(renderHook(() => useLocalSetting('unit', ['mm', 'in'])).result.current[0]).toBe('mm');
  });

  it('is the same on every page', () => {
    const one = renderHook(() => useLocalSetting('unit', ['mm', 'in']));
    const other = renderHook(() => useLocalSetting('unit', ['mm', 'in']));
    one.result.current[1]('in');
    one.rerender();
    other.rerender();
    expect([one.result.current[0], other.result.current[0]]).toEqual(['in', 'in']);
    expect(localStorage.getItem('bright-row.unit')).toBe('in');
  });
});
