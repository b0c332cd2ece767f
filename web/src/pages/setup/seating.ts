import type { SeatPlan } from '../../api/client';
import { ask, type Question } from '../../core/door';

export type Chair = { row: number; seat: number };

/** Who sits on a chair. */
export function sitterOf(plan: SeatPlan, { row, seat }: Chair): SeatPlan['seats'][number] | undefined {
  return plan.seats.find((one) => one.row === row && one.seat === seat);
}

/** The plan with a change by hand: a move, a lock, other rows. */
export function changed(plan: SeatPlan, change: Question<'seatPlan'>['change']): SeatPlan {
  return ask('seatPlan', { plan, change });
}
