import { replaceEqualDeep, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { ChildPage, NewObservation, Room, RoomChild, Rules, ChildBasis } from '../api/client';
import { basisQuery, queryClient, rulesQuery, sessionQuery, whoOf } from '../api/queries';
import { ask, coreAge, CoreFault, useCoreIsThere } from '../core/door';
import type { Pending } from './outbox';
import { useOutbox } from './useOutbox';

/*
 * What a page shows before the server has answered: its last answer with the observations on their way laid over it, by the
 * rules of the core. It is what the server will say.
 */

/** Under which name the core knows these rules, and since which age of the core. */
const learnt = new WeakMap<Rules, { key: string; age: number }>();
let names = 0;

/** The name of these rules for the core, which learns them the first time. */
function nameOf(rules: Rules): string {
  const known = learnt.get(rules);
  if (known?.age === coreAge()) return known.key;
  names += 1;
  const key = `rules ${names}`;
  ask('learnRules', { key, rules: rules.rules });
  learnt.set(rules, { key, age: coreAge() });
  return key;
}

/** What is asked of the core may come from an older server: then the page shows what that one answered. */
function orElse<T>(answered: T, by: () => T): T {
  try {
    return by();
  } catch (error) {
    if (!(error instanceof CoreFault)) throw error;
    console.error(error);
    return answered;
  }
}

/** A room in which the children on whom observations are on their way stand as the server will say. */
export function roomWith(
  room: Room,
  rules: Rules,
  basis: { meeting: number; children: ChildBasis[] },
  pending: NewObservation[],
): Room {
  const recorded = new Set(pending.map(({ child }) => child));
  const of = basis.children.filter((one) => recorded.has(whoOf(one)));
  if (of.length === 0) return room;
  return orElse(room, () => {
    const { children } = ask('roomNow', {
      rules: nameOf(rules),
      meeting: basis.meeting,
      now: new Date().toISOString(),
      basis: of,
      pending,
    });
    const now = new Map<string, RoomChild>(children.map((child) => [child.id, child]));
    return { ...room, children: room.children.map((child) => now.get(child.id) ?? child) };
  });
}

/** A child's page as the server will say it is. */
export function pageWith(page: ChildPage, rules: Rules, pending: NewObservation[], me: string): ChildPage {
  const own = pending.filter(({ child }) => child === page.child.id);
  if (own.length === 0) return page;
  return orElse(page, () => {
    const { meeting, basis, accommodations, openedBy, pain, history } = page;
    const said = { accommodations, openedBy, pain, history };
    const now = new Date().toISOString();
    const { progress } = ask('childNow', {
      rules: nameOf(rules),
      meeting,
      now,
      me,
      basis,
      ...said,
      pending: own,
    });
    // What is as it was stays the same object, so that it is not drawn again.
    return progress ? replaceEqualDeep(page, { ...page, ...progress }) : page;
  });
}

function useOnTheirWay(classId: string): NewObservation[] {
  const { pending } = useOutbox();
  return useMemo(
    () => pending.filter((one: Pending) => one.classId === classId).map(({ item }) => item),
    [pending, classId],
  );
}

/** The room with what is on its way. */
export function useRoomNow(classId: string, room: Room | undefined): Room | undefined {
  const pending = useOnTheirWay(classId);
  // The picture comes first; what is needed from the first tap on is read after it.
  const rules = useQuery({ ...rulesQuery(classId), enabled: room !== undefined }).data;
  const basis = useQuery({ ...basisQuery(classId), enabled: room !== undefined }).data;
  const there = useCoreIsThere();
  return useMemo(
    () => (room && rules && basis && there ? roomWith(room, rules, basis, pending) : room),
    [room, rules, basis, there, pending],
  );
}

/** A child's page with what is on its way. */
export function usePageNow(classId: string, page: ChildPage): ChildPage {
  const pending = useOnTheirWay(classId);
  const rules = useQuery(rulesQuery(classId)).data;
  const there = useCoreIsThere();
  const me = queryClient.getQueryData(sessionQuery.queryKey)?.displayName ?? '';
  return useMemo(
    () => (rules && there ? pageWith(page, rules, pending, me) : page),
    [page, rules, there, pending, me],
  );
}
