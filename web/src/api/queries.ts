import { QueryCache, QueryClient, queryOptions, type Query } from '@tanstack/react-query';
import createQueries from 'openapi-react-query';
import { ApiProblem, api, unwrap, type Schemas, type Session } from './client';

/** Query options and hooks of every route, made from the API's description. */
export const $api = createQueries(api);

export const queryClient = new QueryClient({
  queryCache: new QueryCache({
    onError: (error, query) => {
      if (error instanceof ApiProblem && error.status === 401 && pathOf(query) !== SESSION)
        askWhoIsSignedIn();
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
    mutations: { networkMode: 'always' },
  },
});

/** The class of a route's path, with whatever else the path names. */
export function ofClass(classId: string): { params: { path: { class: string } } };
export function ofClass<More extends Record<string, string>>(
  classId: string,
  more: More,
): { params: { path: { class: string } & More } };
export function ofClass(classId: string, more: Record<string, string> = {}) {
  return { params: { path: { class: classId, ...more } } };
}

const SESSION = '/api/session';

/** Who signed in; `null` for nobody. */
export const sessionQuery = queryOptions({
  queryKey: ['get', SESSION] as const,
  staleTime: Infinity,
  queryFn: async () => {
    try {
      return await unwrap(api.GET(SESSION));
    } catch (error) {
      if (error instanceof ApiProblem && error.status === 401) return null;
      throw error;
    }
  },
});

/**
 * Something was refused for want of a session: where it has ended, the sign-in form opens over the page and nothing on
 * the page is lost. The refusal may be older than a new sign-in, so the server is asked instead of taking its word.
 */
export function askWhoIsSignedIn(): void {
  void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey });
}

/** Somebody signed in: what was asked before knows nothing of it. */
export async function signedInAs(session: Session): Promise<void> {
  await queryClient.cancelQueries({ queryKey: sessionQuery.queryKey });
  queryClient.setQueryData(sessionQuery.queryKey, session);
}

export const firstRunQuery = $api.queryOptions('get', '/api/first-run', {}, { staleTime: Infinity });

export const classesQuery = $api.queryOptions('get', '/api/classes');

/** Read again once a minute, beside the live notices: what comes due with the day, and a notice that got lost. */
const REGULARLY = { refetchInterval: 60_000 };

export const roomQuery = (classId: string) =>
  $api.queryOptions('get', '/api/classes/{class}/room', ofClass(classId), REGULARLY);

/** By which rules the class's children are read; asked anew when the class changed in more than observations. */
export const rulesQuery = (classId: string) =>
  $api.queryOptions('get', '/api/classes/{class}/rules', ofClass(classId), { staleTime: Infinity });

const BASIS = '/api/classes/{class}/basis';
type Basis = Schemas['BasisOfClass'];

/** Classes of which more changed than observations: their next basis is read whole. */
const wholeNext = new Set<string>();

/**
 * From what everything about the class's children follows. It is large, so after the first time only those children are read
 * for whom observations came in.
 */
export const basisQuery = (classId: string) =>
  queryOptions({
    queryKey: ['get', BASIS, ofClass(classId)] as const,
    queryFn: async ({ client, queryKey, signal }) => {
      const known = wholeNext.has(classId) ? undefined : client.getQueryData<Basis>(queryKey);
      const path = { class: classId };
      const query = known ? { since: known.at } : {};
      const read = await unwrap(api.GET(BASIS, { params: { path, query }, signal }));
      wholeNext.delete(classId);
      return known ? { ...read, children: withChanged(known.children, read.children) } : read;
    },
    ...REGULARLY,
  });

/** Whose basis it is. */
export const whoOf = (basis: Basis['children'][number]) =>
  (basis as unknown as { who: { id: string } }).who.id;

function withChanged(known: Basis['children'], changed: Basis['children']): Basis['children'] {
  const fresh = new Map(changed.map((one) => [whoOf(one), one]));
  const kept = known.map((one) => fresh.get(whoOf(one)) ?? one);
  const here = new Set(known.map(whoOf));
  return [...kept, ...changed.filter((one) => !here.has(whoOf(one)))];
}

export const childQuery = (classId: string, child: string) =>
  $api.queryOptions('get', '/api/classes/{class}/children/{child}', ofClass(classId, { child }), REGULARLY);

/** Everything a round needs; read when the room opens, so that one can be started without network. */
export const roundQuery = (classId: string) =>
  $api.queryOptions('get', '/api/classes/{class}/round', ofClass(classId));

/** How everything that is judged by eye is drawn; asked anew when the class changed in more than observations. */
export const drawingsQuery = (classId: string) =>
  $api.queryOptions('get', '/api/classes/{class}/drawings', ofClass(classId), { staleTime: Infinity });

/** The route of a query that the API's description knows: `/api/classes/{class}/room`. */
export function pathOf({ queryKey }: Pick<Query, 'queryKey'>): string {
  return String(queryKey[1]);
}

function classOf({ queryKey }: Query): string | undefined {
  const init = queryKey[2] as { params?: { path?: { class?: string } } } | undefined;
  return init?.params?.path?.class;
}

/** What a page cannot do without while something is on its way. */
const FIRST = [roomQuery(''), basisQuery(''), roundQuery('')].map(pathOf);
/** Long computations about the weeks ahead: other settings change them, one observation hardly does. */
const LONG = ['/api/classes/{class}/forecast', '/api/classes/{class}/term/forecast'];

/** In what a class changed, as the server says it; `class` is anything. */
export type Topic = 'observations' | 'rounds' | 'tapes' | 'home' | 'class';

const CLASS = '/api/classes/{class}';
/** What follows from each topic, by the beginning of its routes: the rest of a page stays as it is. */
const FOLLOWS: Record<Topic, string[]> = {
  observations: ['room', 'basis', 'round', 'children', 'overview', 'lesson', 'tapes', 'home', 'term'],
  rounds: ['round'],
  tapes: [
    'room',
    'basis',
    'round',
    'children',
    'tapes',
    'instruments',
    'overview',
    'lesson',
    'supplies',
    'term',
  ],
  home: ['home', 'children/{child}/answers'],
  class: [''],
};

/**
 * What is being read for the first time may have been answered before the change: it is asked anew. Invalidating does so
 * only for what has been read already.
 */
function askAnew(predicate: (query: Query) => boolean): void {
  for (const query of queryClient.getQueryCache().findAll({ predicate, fetchStatus: 'fetching' })) {
    if (query.state.data !== undefined) continue;
    void query.cancel({ silent: true });
    query.fetch().catch(() => undefined);
  }
}

async function readAgain(classId: string, topics: ReadonlySet<Topic>): Promise<void> {
  if (topics.has('class') || topics.has('tapes')) wholeNext.add(classId);
  const routes = [...topics].flatMap((topic) => FOLLOWS[topic]).map((route) => `${CLASS}/${route}`);
  const follows = (query: Query) => routes.some((route) => pathOf(query).startsWith(route));
  const long = (query: Query) =>
    LONG.some((route) => pathOf(query).startsWith(route)) && !topics.has('class');
  const ofThis = (query: Query) => classOf(query) === classId && follows(query) && !long(query);
  const first = (query: Query) => ofThis(query) && FIRST.includes(pathOf(query));
  const rest = (query: Query) => ofThis(query) && !FIRST.includes(pathOf(query));
  askAnew(ofThis);
  await Promise.all([
    queryClient.invalidateQueries({ predicate: first }, { throwOnError: true }),
    queryClient.invalidateQueries({ predicate: rest }),
  ]);
}

interface Turn {
  now: Promise<void>;
  /** The one that comes after it, and what it is about. */
  next?: { done: Promise<void>; topics: Set<Topic> };
}

/** The refresh under way of each class. */
const under = new Map<string, Turn>();

/**
 * What of a class is on the screen and follows from these topics, read again from this moment on. One refresh at a time:
 * whoever asks while one is under way gets the one after it, which knows what the first may have missed. Fails where the
 * room or the round cannot be read.
 */
export function refreshClass(classId: string, topic: Topic = 'class'): Promise<void> {
  const running = under.get(classId);
  if (!running) return begin(classId, new Set([topic]));
  if (running.next) {
    running.next.topics.add(topic);
    return running.next.done;
  }
  const topics = new Set([topic]);
  const done = running.now.catch(() => undefined).then(() => begin(classId, topics));
  running.next = { done, topics };
  return done;
}

function begin(classId: string, topics: ReadonlySet<Topic>): Promise<void> {
  const now = readAgain(classId, topics);
  const turn: Turn = { now };
  under.set(classId, turn);
  const over = () => {
    if (under.get(classId) === turn && !turn.next) under.delete(classId);
  };
  now.then(over, over);
  return now;
}
