import type { SeatPlan } from '../../api/client';

export type Chair = { row: number; seat: number };

/** Who sits on a chair. */
export function sitterOf(plan: SeatPlan, { row, seat }: Chair): SeatPlan['seats'][number] | undefined {
  return plan.seats.find((one) => one.row === row && one.seat === seat);
}

/**
 * The plan with a child on that chair. Whoever sat there takes the child's old chair, or has none if the child had none.
 * Locked children stay: nothing moves onto their chairs, and they move nowhere.
 */
export function moveTo(plan: SeatPlan, child: string, chair: Chair): SeatPlan {
  const from = plan.seats.find((one) => one.child === child);
  const there = sitterOf(plan, chair);
  if (from?.locked || there?.locked || there?.child === child) return plan;
  const others = plan.seats.filter((one) => one.child !== child && one.child !== there?.child);
  const swapped = there && from ? [{ ...there, row: from.row, seat: from.seat }] : [];
  return { ...plan, seats: [...others, ...swapped, { child, ...chair, locked: false }] };
}

export function toggleLock(plan: SeatPlan, child: string): SeatPlan {
  return {
    ...plan,
    seats: plan.seats.map((one) => (one.child === child ? { ...one, locked: !one.locked } : one)),
  };
}

/** The plan with other rows; who sat on a chair that is gone has none until seats are proposed or given. */
export function withRows(plan: SeatPlan, rows: number[]): SeatPlan {
  const seats = plan.seats.filter(({ row, seat }) => seat <= (rows[row - 1] ?? 0));
  return { room: { ...plan.room, rows }, seats };
}

/** So many chairs in so many rows, as evenly as can be, the fuller rows at the back. */
export function evenRows(count: number, rows: number): number[] {
  const each = Math.floor(count / rows);
  const more = count % rows;
  return Array.from({ length: rows }, (_, row) => Math.max(1, each + (row >= rows - more ? 1 : 0)));
}
