import type { Instrument, RoomChild, Strand } from '../../api/client';
import { rowsWithoutSeat } from '../../parts/withoutSeat';
import { isDue } from '../../words/room';

/** A row of the room, from the podium's left to its right. */
export interface Row {
  key: string;
  /** 1 nearest the podium; 0 for children without a seat. */
  number: number;
  /** Of children without a seat: what they all play. */
  section?: Instrument;
  children: RoomChild[];
  /** The mean brightness, 0 to 1. */
  brightness: number;
}

function row(key: string, number: number, children: RoomChild[]): Row {
  const brightness = children.reduce((sum, child) => sum + child.brightness, 0) / children.length;
  return { key, number, children, brightness };
}

/** The rows as the podium sees them: the last first, the nearest at the bottom; then who has no seat, a row for each section. */
export function rowsOf(children: readonly RoomChild[]): Row[] {
  const numbers = new Set(children.flatMap((child) => (child.seat ? [child.seat.row] : [])));
  const seated = [...numbers].toSorted((a, b) => b - a);
  return [
    ...seated.map((number) => {
      const inRow = children.flatMap((child) =>
        child.seat?.row === number ? [{ child, at: child.seat.seat }] : [],
      );
      inRow.sort((a, b) => a.at - b.at);
      return row(
        String(number),
        number,
        inRow.map(({ child }) => child),
      );
    }),
    ...rowsWithoutSeat(children.filter((child) => !child.seat)).map(({ section, children: inRow }) => ({
      ...row(section, 0, inRow),
      section,
    })),
  ];
}

/** How far a chair stands towards the podium, 0 to 1: rows are arcs, so the outer chairs come forward. */
export function forward(index: number, inRow: number): number {
  if (inRow < 3) return 0;
  const across = (2 * index) / (inRow - 1) - 1;
  return across * across;
}

export type Direction = 'ArrowLeft' | 'ArrowRight' | 'ArrowUp' | 'ArrowDown';

/** The child at the next chair in a direction; up is away from the podium. */
export function neighbour(
  rows: readonly Row[],
  childId: string,
  direction: Direction,
): RoomChild | undefined {
  const r = rows.findIndex((row) => row.children.some((child) => child.id === childId));
  const row = rows[r];
  if (!row) return undefined;
  const s = row.children.findIndex((child) => child.id === childId);
  if (direction === 'ArrowLeft') return row.children[s - 1];
  if (direction === 'ArrowRight') return row.children[s + 1];
  const other = rows[direction === 'ArrowUp' ? r - 1 : r + 1];
  if (!other) return undefined;
  // Rows are centred: the chair at the same place across the room.
  const shift = (other.children.length - row.children.length) / 2;
  const index = Math.min(other.children.length - 1, Math.max(0, Math.round(s + shift)));
  return other.children[index];
}

/** What the room is asked to show. */
export interface Show {
  strand?: Strand | undefined;
  instrument?: Instrument | undefined;
  only?: 'due' | 'flagged' | undefined;
  name: string;
}

export function isShown(child: RoomChild, { strand, instrument, only, name }: Show): boolean {
  if (instrument && child.instrument !== instrument) return false;
  if (name && !child.name.toLocaleLowerCase().includes(name.trim().toLocaleLowerCase())) return false;
  const strings = child.strings.filter((string) => !strand || string.strand === strand);
  if (only === 'due') return strings.some((string) => isDue(string.recheck));
  if (only === 'flagged') return strings.some((string) => string.flags.length > 0);
  return true;
}
