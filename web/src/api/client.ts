import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema.gen';

export type Schemas = components['schemas'];
export type Room = Schemas['Room'];
export type Rules = Schemas['RulesOfClass'];
export type ChildBasis = Schemas['BasisOfClass']['children'][number];
export type RoomChild = Schemas['RoomChild'];
export type StringView = Schemas['StrandView'];
export type Recheck = Schemas['Recheck'];
export type ChildPage = Schemas['ChildPage'];
export type Ladder = Schemas['LadderView'];
export type Stage = Schemas['StageOfChild'];
export type Checkpoint = Schemas['CheckpointOfChild'];
export type ObservationView = Schemas['ObservationView'];
export type NewObservation = Schemas['NewObservation'];
export type RoundKit = Schemas['RoundKit'];
export type RoundChild = Schemas['RoundChild'];
export type RoundEvent = Schemas['RoundEvent'];
export type FamilyAnswer = Schemas['FamilyAnswer'];
export type BackAgain = Schemas['BackAgain'];
export type RoundObservation = Schemas['RoundObservation'];
export type Check = Schemas['CheckView'];
export type Scan = Schemas['ScanView'];
export type Strand = Schemas['Strand'];
export type Instrument = Schemas['Instrument'];
export type Session = Schemas['SessionView'];
export type RosterChild = Schemas['RosterChild'];
export type Preview = Schemas['Preview'];
export type Means = Schemas['Means'];
export type FitChild = Schemas['FitChild'];
export type Measures = Schemas['Measures'];
export type Measure = Schemas['Measure'];
export type Asset = Schemas['AssetView'];
export type Seats = Schemas['SeatsView'];
export type SeatPlan = Schemas['SeatPlan'];
export type NextItem = Schemas['NextView'];
export type Pain = Schemas['PainView'];
export type Cause = Schemas['CauseView'];
export type Override = Schemas['OverrideView'];
export type Choice = Schemas['ChoiceView'];
export type Change = Schemas['ChangeView'];
export type EditedCheckpoint = Schemas['EditedCheckpoint'];
export type EditedStage = Schemas['EditedStage'];
export type Texts = Schemas['Wording'];
export type Says = Schemas['Says'];
export type TapeBench = Schemas['TapeBench'];
export type BenchInstrument = Schemas['BenchInstrument'];
export type TapePage = Schemas['TapePage'];
export type NewTapeEntry = Schemas['NewTapeEntry'];
export type TapeSpot = Schemas['SpotStatus'];
export type Marker = Schemas['MarkerView'];
export type MarkerSettings = Schemas['MarkerSettings'];
export type NoteMap = Schemas['NoteMap'];
export type Voice = Schemas['Voice'];
/** What a note map is asked for. */
export type TuneWishes = NonNullable<paths['/api/classes/{class}/notes']['get']['parameters']['query']>;
/** What templates are asked for. */
export type TemplateWishes = NonNullable<
  paths['/api/classes/{class}/tapes/sheets']['get']['parameters']['query']
>;
export type Problem = Schemas['Problem'];

/** A document as it is now; without one it is gone. */
export interface Present {
  version?: string;
  document?: unknown;
}

/** Says that a change is based on this version of a document; absent: on there being none. */
export function basedOn(version: string | undefined): Record<string, string> {
  return version === undefined ? { 'If-None-Match': '*' } : { 'If-Match': `"${version}"` };
}

/** What went wrong, in words for the one who reads it. */
export class ApiProblem extends Error {
  readonly status: number;
  /** For programs: `not-valid`. */
  readonly kind: string;
  readonly fields: ReadonlyMap<string, string>;
  /** Everything that is wrong, in order; several may be about one field. */
  readonly details: readonly string[];
  /** What is there now, where somebody else changed it meanwhile. */
  readonly present: Present | undefined;

  constructor(problem: Problem) {
    super(problem.detail);
    this.status = problem.status;
    this.kind = problem.type.replace('/problems/', '');
    this.fields = new Map(problem.errors?.map((error) => [error.field, error.detail]));
    this.details = problem.errors?.map((error) => error.detail) ?? [];
    const { status, version, document } = problem;
    this.present =
      status === 412 ? { ...(version && { version }), ...(document && { document }) } : undefined;
  }
}

/** The network or the server did not answer at all. */
export class NoAnswer extends Error {
  constructor() {
    super('The server does not answer. What you typed is kept: check the network, then try again.');
  }
}

function isProblem(value: unknown): value is Problem {
  return typeof value === 'object' && value !== null && 'detail' in value && 'status' in value;
}

/** Throws the problem that an answer carries; {@link NoAnswer} where somebody else answered in the server's place. */
async function refuse(response: Response): Promise<never> {
  const body: unknown = await response.json().catch(() => undefined);
  throw isProblem(body) ? new ApiProblem(body) : new NoAnswer();
}

/** Every outcome but a good one is thrown: an {@link ApiProblem}, or a {@link NoAnswer}. */
const throwing: Middleware = {
  onResponse: async ({ response }) => {
    if (!response.ok) await refuse(response);
    // The sign-in page of a network answers everything with a page of its own.
    const type = response.headers.get('content-type');
    if (type !== null && !type.includes('json')) throw new NoAnswer();
  },
  onError: () => new NoAnswer(),
};

export const api = createClient<paths>({ credentials: 'same-origin' });
api.use(throwing);

/** The data of an answer; an {@link ApiProblem} or {@link NoAnswer} is thrown instead of any other outcome. */
export async function unwrap<T>(answer: Promise<{ data?: T }>): Promise<T> {
  try {
    return (await answer).data as T;
  } catch (error) {
    throw asError(error);
  }
}

/** What went wrong with a request; whatever the server did not say itself, an answer broken off in the middle too, is no answer. */
export function asError(error: unknown): ApiProblem | NoAnswer {
  return error instanceof ApiProblem ? error : new NoAnswer();
}

const LINES = 'application/x-ndjson';

/** The answer at the end of lines that say how far a file is read. */
async function readLines(response: Response, onRead: (share: number) => void): Promise<Response> {
  const line = (text: string): Response | undefined => {
    const said = JSON.parse(text) as { read: number } | { status: number; answer: unknown };
    if ('answer' in said) return Response.json(said.answer, { status: said.status });
    onRead(said.read);
    return undefined;
  };
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    const lines = (rest + part.value).split('\n');
    rest = lines.pop() ?? '';
    for (const answer of lines.map(line)) if (answer) return answer;
  }
  throw new NoAnswer();
}

/** Sends a file as it is; answers and throws as {@link api} does. With `onRead` a server that can says how far it has read it. */
export async function sendFile<T>(
  path: string,
  query: Record<string, string>,
  file: Blob,
  signal?: AbortSignal,
  onRead?: (share: number) => void,
): Promise<T> {
  const url = `${path}?${new URLSearchParams(query).toString()}`;
  const accept = onRead ? `${LINES}, application/json` : 'application/json';
  const headers = { 'content-type': 'application/octet-stream', accept };
  const noAnswer = () => {
    throw new NoAnswer();
  };
  const first = await fetch(url, { method: 'POST', body: file, headers, ...(signal && { signal }) }).catch(
    noAnswer,
  );
  const inLines = onRead && first.headers.get('content-type') === LINES;
  const response = inLines ? await readLines(first, onRead).catch(noAnswer) : first;
  if (!response.ok) return refuse(response);
  return (await response.json().catch(noAnswer)) as T;
}
