import { describe, expect, it, vi } from 'vitest';
import type { ChildPage, NewObservation, Room, Rules } from '../api/client';
import answered from '../testing/answers.json';
import { pageWith, roomWith } from './overlay';

/** What a server answered about a class of two; its clock stood still. */
const answers = answered as unknown as {
  rules: Rules;
  room: Room;
  basis: { meeting: number; children: Record<string, never>[] };
  page: ChildPage;
};
const { rules, room, basis, page } = answers;
const ada = page.child.id;
const NOW = '2026-11-03T14:30:00Z';

let number = 0;

function seen(target: string, about: Partial<NewObservation>): NewObservation {
  number += 1;
  const id = `00000000-0000-7000-8000-${String(number).padStart(12, '0')}`;
  return { id, child: ada, target, observedAt: NOW, via: 'visit', ...about };
}

const over = (...pending: NewObservation[]) => pageWith(page, rules, pending, 'The director');
const checkpoint = (of: ChildPage, id: string) =>
  of.ladders
    .flatMap(({ stages }) => stages.flatMap(({ checkpoints }) => checkpoints))
    .find((one) => one.id === id);
const hold = (of: ChildPage) => of.child.strings.find(({ strand }) => strand === 'hold');

describe('observations on their way', () => {
  it('leave a page alone that they are not of', () => {
    expect(over()).toBe(page);
    expect(over({ ...seen('hold.tall', { level: 0 }), child: '00000000-0000-0000-0000-000000000002' })).toBe(
      page,
    );
  });

  it('are due again when the rule says so', () => {
    const { standing } = checkpoint(over(seen('hold.seat', { level: 3 })), 'hold.seat') ?? {};
    // Its stage is looked at as a whole, and what stands beside it is due.
    expect(standing).toMatchObject({ level: 3, recheck: { state: 'due' } });
    // Lasting for the third time in a row: as long as the rhythm has it at most.
    const lasting = over(seen('hold.tall', { level: 4 }));
    expect(checkpoint(lasting, 'hold.tall')?.standing?.recheck).toEqual({ state: 'fresh', meetings: 12 });
  });

  it('light the string, and flag a slip where one was found', () => {
    expect(hold(over(seen('hold.seat', { level: 3 })))?.glow).toBeGreaterThan(hold(page)?.glow ?? 1);
    const slipped = over(seen('hold.tall', { level: 2 }));
    expect(hold(slipped)?.flags).toContain('slip');
    expect(checkpoint(slipped, 'hold.tall')?.standing?.slipped).toBe(true);
  });

  it('of a scan at what lasts are no slip', () => {
    const scanned = over(seen('hold.tall', { level: 3, via: 'scan' }));
    expect(checkpoint(scanned, 'hold.tall')?.standing).toMatchObject({ level: 4, slipped: false });
    expect(hold(scanned)?.flags).not.toContain('slip');
  });

  it('vanish with their own undo, and take back one from the history', () => {
    const one = seen('hold.seat', { level: 3 });
    const without = over(one, seen('hold.seat', { retracts: one.id }));
    expect(checkpoint(without, 'hold.seat')?.standing).toBeUndefined();
    const latest = page.history.observations.find(({ target }) => target === 'hold.rest');
    const before = over(seen('hold.rest', { retracts: latest?.id ?? '' }));
    expect(checkpoint(before, 'hold.rest')?.standing?.level).toBe(2);
  });

  it('flag pain at once, on top of what is next', () => {
    const hurting = over(seen('hold.seat', { level: 1, says: 'hurts' }));
    expect(hold(hurting)?.flags).toContain('pain');
    expect(hurting.next[0]).toMatchObject({ kind: 'pain' });
    expect(hurting.pain[0]).toMatchObject({ seen: { by: 'The director' } });
  });

  it('stand first in the history', () => {
    expect(over(seen('hold.seat', { level: 3 })).history.observations[0]).toMatchObject({
      target: 'hold.seat',
      observer: 'The director',
    });
  });

  it('show in the room as on the page', () => {
    const one = seen('hold.seat', { level: 3 });
    const now = roomWith(room, rules, basis, [one]);
    expect(now.children.find(({ id }) => id === ada)).toEqual(over(one).child);
    expect(now.children[1]).toBe(room.children[1]);
  });

  it('wait for the server where the page knows too little, or from an older server', () => {
    const unknown = seen('hold.rest', { retracts: '00000000-0000-7000-8000-00000000ffff' });
    expect(roomWith(room, rules, basis, [unknown]).children).toEqual(room.children);
    const reported = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    expect(pageWith({ ...page, basis: {} }, rules, [seen('hold.seat', { level: 3 })], '').child).toEqual(
      page.child,
    );
    expect(reported).toHaveBeenCalledOnce();
    reported.mockRestore();
  });
});
