import type { Schemas } from '../api/client';
import { isoDay, weekdayWords } from './dates';
import { SAYS } from './looks';
import { count } from './text';

type Block = Schemas['HomeBlock'];

const BLOCKS: Record<Block['kind'], string> = {
  'bow-shape': 'Bow hand',
  'finger-strength': 'Finger taps',
  'open-strings': 'Open strings',
  'left-hand-notes': 'Notes of the week',
  sing: 'Sing and clap',
  tune: 'Tune',
};

/** A block of a day: `Finger taps 2 min, 20 each`. */
export function blockWords({ kind, minutes, count }: Block): string {
  return `${BLOCKS[kind]} ${minutes} min${count === undefined ? '' : `, ${count} each`}`;
}

function nextDay(date: string): string {
  const day = new Date(`${date}T12:00`);
  day.setDate(day.getDate() + 1);
  return isoDay(day);
}

/** Days that follow each other and have the same blocks: what is said of them once. */
export interface SameDays {
  /** `Mon 30 Nov`, or `Mon 30 Nov to Fri 4 Dec`. */
  when: string;
  what: string;
}

/** A week in as few lines as can be. */
export function weekWords(days: Schemas['HomeDay'][]): SameDays[] {
  const lines: { first: string; last: string; what: string }[] = [];
  for (const { date, blocks } of days) {
    const what = blocks.map(blockWords).join(' · ');
    const before = lines.at(-1);
    if (before?.what === what && nextDay(before.last) === date) before.last = date;
    else lines.push({ first: date, last: date, what });
  }
  return lines.map(({ first, last, what }) => ({
    when: first === last ? weekdayWords(first) : `${weekdayWords(first)} to ${weekdayWords(last)}`,
    what,
  }));
}

/** What came back in a week: `practised on 4 days, tight`. */
export function backWords({ days, says }: Schemas['BackAgain']): string {
  const practised = days === undefined ? [] : [`practised on ${count(days, 'day')}`];
  return [...practised, ...(says === undefined ? [] : [SAYS[says].toLowerCase()])].join(', ');
}
