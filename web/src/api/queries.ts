import { QueryCache, QueryClient, queryOptions } from '@tanstack/react-query';
import { ApiProblem, api, unwrap, type Schemas } from './client';

export const queryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error, query) => {
      // The session ended while the page was open: the sign-in form opens over it, nothing on the page is lost.
      const ended = error instanceof ApiProblem && error.status === 401;
      if (ended && query.queryKey[0] !== 'session') queryClient.setQueryData(sessionQuery.queryKey, null);
    },
  }),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => !(error instanceof ApiProblem && error.status < 500) && count < 3,
      networkMode: 'always',
      // What was read once is there without network, also after a while on another page.
      gcTime: 24 * 3600_000,
    },
  },
});

/** Who signed in; `null` for nobody. */
export const sessionQuery = queryOptions({
  queryKey: ['session'],
  staleTime: Infinity,
  queryFn: async () => {
    try {
      return await unwrap(api.GET('/api/session'));
    } catch (error) {
      if (error instanceof ApiProblem && error.status === 401) return null;
      throw error;
    }
  },
});

export const firstRunQuery = queryOptions({
  queryKey: ['first-run'],
  staleTime: Infinity,
  queryFn: () => unwrap(api.GET('/api/first-run')),
});

export const classesQuery = queryOptions({
  queryKey: ['classes'],
  queryFn: () => unwrap(api.GET('/api/classes')),
});

/** Read again once a minute, beside the live notices: what comes due with the day, and a notice that got lost. */
const REGULARLY = 60_000;

export const roomQuery = (classId: string) =>
  queryOptions({
    queryKey: ['room', classId],
    refetchInterval: REGULARLY,
    queryFn: () => unwrap(api.GET('/api/classes/{class}/room', { params: { path: { class: classId } } })),
  });

export const childQuery = (classId: string, childId: string) =>
  queryOptions({
    queryKey: ['child', classId, childId],
    refetchInterval: REGULARLY,
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/children/{child}', {
          params: { path: { class: classId, child: childId } },
        }),
      ),
  });

/** Everything a round needs; read when the room opens, so that one can be started without network. */
export const roundQuery = (classId: string) =>
  queryOptions({
    queryKey: ['round', classId],
    queryFn: () =>
      unwrap(api.GET('/api/classes/{class}/round', { params: { path: { class: classId }, query: {} } })),
  });

/** The same for the next meeting, as if nothing were recorded until then. */
export const nextRoundQuery = (classId: string) =>
  queryOptions({
    queryKey: ['next-round', classId],
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/round', { params: { path: { class: classId }, query: { ahead: 1 } } }),
      ),
  });

/** The term ahead with so many minutes a meeting; an answer nobody waits for any more is given up. */
export const forecastQuery = (classId: string, minutes: number) =>
  queryOptions({
    queryKey: ['forecast', classId, minutes],
    staleTime: 60_000,
    queryFn: ({ signal }) =>
      unwrap(
        api.GET('/api/classes/{class}/forecast', {
          params: { path: { class: classId }, query: { minutes } },
          signal,
        }),
      ),
  });

export const fewestMinutesQuery = (classId: string) =>
  queryOptions({
    queryKey: ['fewest-minutes', classId],
    staleTime: 60_000,
    queryFn: ({ signal }) =>
      unwrap(
        api.GET('/api/classes/{class}/forecast/fewest', { params: { path: { class: classId } }, signal }),
      ),
  });

/** When the class meets. */
export const calendarQuery = (classId: string) =>
  queryOptions({
    queryKey: ['approach', classId, 'calendar'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/calendar', { params: { path: { class: classId } } })),
  });

/** What setting up a class reads; read again with every change of the class. */
export const rosterQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'roster'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/roster', { params: { path: { class: classId } } })),
  });

export const fitQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'fit'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/fit', { params: { path: { class: classId } } })),
  });

export const inventoryQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'instruments'],
    queryFn: () =>
      unwrap(api.GET('/api/classes/{class}/instruments', { params: { path: { class: classId } } })),
  });

export const loansQuery = (classId: string, asset: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'loans', asset],
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/instruments/{asset}/loans', {
          params: { path: { class: classId, asset } },
        }),
      ),
  });

export const matchQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'match'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/match', { params: { path: { class: classId } } })),
  });

export const seatsQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'seats'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/seats', { params: { path: { class: classId } } })),
  });

export const suppliesQuery = (classId: string) =>
  queryOptions({
    queryKey: ['setup', classId, 'supplies'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/supplies', { params: { path: { class: classId } } })),
  });

/** What the class chose where teachers disagree. */
export const approachQuery = (classId: string) =>
  queryOptions({
    queryKey: ['approach', classId, 'schools'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/approach', { params: { path: { class: classId } } })),
  });

/** How soon the class looks at things again. */
export const rhythmQuery = (classId: string) =>
  queryOptions({
    queryKey: ['approach', classId, 'rhythm'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/rhythm', { params: { path: { class: classId } } })),
  });

export const checklistQuery = (classId: string) =>
  queryOptions({
    queryKey: ['approach', classId, 'checklist'],
    queryFn: () =>
      unwrap(api.GET('/api/classes/{class}/checklist', { params: { path: { class: classId } } })),
  });

/** The class read as a whole. */
export const overviewQuery = (classId: string) =>
  queryOptions({
    queryKey: ['lessons', classId, 'overview'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/overview', { params: { path: { class: classId } } })),
  });

/** The next lesson: as it was kept, and as it would be proposed for so many minutes. */
export const lessonQuery = (classId: string, minutes: number | undefined) =>
  queryOptions({
    queryKey: ['lessons', classId, 'next', minutes],
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/lesson', {
          params: { path: { class: classId }, query: minutes === undefined ? {} : { minutes } },
        }),
      ),
  });

/** What signs and facts of a child may come from, best first; with none picked, the signs to pick from. */
export const causesQuery = (classId: string, childId: string, symptoms: string[], facts: string[]) =>
  queryOptions({
    queryKey: ['causes', classId, childId, symptoms, facts],
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/children/{child}/causes', {
          params: {
            path: { class: classId, child: childId },
            query: { symptoms: symptoms.join(','), facts: facts.join(',') },
          },
        }),
      ),
  });

/** The instruments of the class by what their markers need. */
export const benchQuery = (classId: string) =>
  queryOptions({
    queryKey: ['tapes', classId, 'bench'],
    queryFn: () => unwrap(api.GET('/api/classes/{class}/tapes', { params: { path: { class: classId } } })),
  });

/** One instrument at the bench. */
export const tapePageQuery = (classId: string, asset: string) =>
  queryOptions({
    queryKey: ['tapes', classId, 'page', asset],
    queryFn: () =>
      unwrap(api.GET('/api/classes/{class}/tapes/{asset}', { params: { path: { class: classId, asset } } })),
  });

export type TemplateWishes = {
  paper: 'a4' | 'letter';
  assets?: string;
  backs?: boolean;
  unmeasured?: boolean;
};

/** How many sheets some templates take. */
export const sheetsQuery = (classId: string, wishes: TemplateWishes) =>
  queryOptions({
    queryKey: ['tapes', classId, 'sheets', wishes],
    queryFn: () =>
      unwrap(
        api.GET('/api/classes/{class}/tapes/sheets', {
          params: { path: { class: classId }, query: wishes },
        }),
      ),
  });

export type TuneWishes = { tune?: string; notes?: string; name?: string; key?: string; meter?: string };

/** A note or a tune on all four instruments. */
export const notesQuery = (classId: string, wishes: TuneWishes) =>
  queryOptions({
    queryKey: ['tapes', classId, 'notes', wishes],
    placeholderData: (before: Schemas['NoteMap'] | undefined) => before,
    queryFn: () =>
      unwrap(api.GET('/api/classes/{class}/notes', { params: { path: { class: classId }, query: wishes } })),
  });

/** What a page cannot do without while something is on its way. */
const FIRST = ['room', 'round'];
const ALL = [...FIRST, 'child', 'next-round', 'setup', 'tapes', 'approach', 'lessons', 'causes'];

async function readAgain(classId: string): Promise<void> {
  await Promise.all(
    ALL.map((kind) =>
      queryClient.invalidateQueries({ queryKey: [kind, classId] }, { throwOnError: FIRST.includes(kind) }),
    ),
  );
}

/** The refresh under way of each class, and the one that comes after it. */
const under = new Map<string, { now: Promise<void>; next?: Promise<void> }>();

/**
 * Everything of a class that is on the screen, read again from this moment on. One refresh at a time: whoever asks while
 * one is under way gets the one after it, which knows what the first may have missed. Fails where the room or the round
 * cannot be read.
 */
export function refreshClass(classId: string): Promise<void> {
  const running = under.get(classId);
  if (running) {
    running.next ??= running.now.catch(() => undefined).then(() => begin(classId));
    return running.next;
  }
  return begin(classId);
}

function begin(classId: string): Promise<void> {
  const now = readAgain(classId);
  const turn: { now: Promise<void>; next?: Promise<void> } = { now };
  under.set(classId, turn);
  const over = () => {
    if (under.get(classId) === turn && !turn.next) under.delete(classId);
  };
  now.then(over, over);
  return now;
}
