/* Days and moments. */

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });

/** The days of a week, Monday first. */
export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

const WEEKDAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short' });

function moment(date: string): Date {
  return date.length === 10 ? new Date(`${date}T12:00:00`) : new Date(date);
}

/** `24 Nov`, of a day or a moment. */
export function dayWords(date: string): string {
  return DAY.format(moment(date));
}

const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** `Tue 24 Nov, 09:30`, where the reader is. */
export function momentWords(at: string): string {
  return `${weekdayWords(at)}, ${CLOCK.format(new Date(at))}`;
}

/** `Tue 24 Nov`. */
export function weekdayWords(date: string): string {
  return `${WEEKDAY.format(moment(date))} ${dayWords(date)}`;
}

/** The day of a moment where the reader is, `2026-11-29`. */
export function isoDay(date: Date): string {
  const local = new Date(date.getTime() - date.getTimezoneOffset() * 60_000);
  return local.toISOString().slice(0, 10);
}
