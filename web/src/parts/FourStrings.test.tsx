import { cleanup, render, screen } from '@testing-library/react';
import { ThemeProvider } from '@mui/material/styles';
import { afterEach, describe, expect, it } from 'vitest';
import type { StringView } from '../api/client';
import { theme } from '../theme';
import { FourStrings } from './FourStrings';
import { BOX, drawString } from './stringGlyph';

const string: StringView = { strand: 'hold', glow: 0.5, seen: true, inWork: true, flags: [] };
/** The smallest sign in a seat is some 46 px high. */
const SMALLEST_SCALE = 46 / BOX.height;

function lengthOf(path: string): number {
  const ys = [...path.matchAll(/-?[\d.]+ (-?[\d.]+)/g)].map((found) => Number(found[1]));
  return Math.max(...ys) - Math.min(...ys);
}

describe('a string of the sign', () => {
  it('rings further the more it is learned, and visibly from the first look on', () => {
    const lengths = [0, 0.1, 0.5, 1].map((glow) =>
      lengthOf(drawString(0, { ...string, glow }).spindle ?? ''),
    );
    expect(lengths[0]).toBeGreaterThanOrEqual(7 / SMALLEST_SCALE);
    expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
  });

  it('has no spindle while nobody has looked', () => {
    expect(drawString(0, { ...string, seen: false }).spindle).toBeUndefined();
  });
});

describe('the four strings', () => {
  afterEach(cleanup);
  const strings: StringView[] = [
    { ...string, recheck: { state: 'overdue', meetings: 2 } },
    { ...string, strand: 'bow', flags: ['slip'], glow: 1 },
    { ...string, strand: 'frame', seen: false, glow: 0 },
    { ...string, strand: 'tape', recheck: { state: 'fresh', meetings: 3 } },
  ];

  const sign = (
    <ThemeProvider theme={theme}>
      <FourStrings strings={strings} size="card" />
    </ThemeProvider>
  );

  it('are said in one sentence', () => {
    render(sign);
    expect(screen.getByRole('img').getAttribute('aria-label')).toBe(
      'Hold about half lit, due for 2 meetings; Bow grip fully lit, a slip being worked on; ' +
        'Left-hand frame nothing seen yet; Tapes about half lit.',
    );
  });

  it('carry no meaning by colour alone: hollow, stroke, lozenge and dot', () => {
    const { container } = render(sign);
    const count = (selector: string) => container.querySelectorAll(selector).length;
    const due = render(<FourStrings strings={[{ ...string, recheck: { state: 'due' } }]} size="card" />, {
      wrapper: ({ children }) => <ThemeProvider theme={theme}>{children}</ThemeProvider>,
    });
    expect(due.container.querySelectorAll('.late')).toHaveLength(0);
    expect(['.hollow', '.late', '.ringing', '.flag', '.dot'].map(count)).toEqual([1, 1, 2, 1, 1]);
  });
});
