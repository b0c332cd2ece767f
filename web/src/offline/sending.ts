import {
  api,
  unwrap,
  type FamilyAnswer,
  type NewObservation,
  type NewTapeEntry,
  type RoundEvent,
} from '../api/client';

/** Sends observations through the API. */
export async function sendObservations(classId: string, observations: NewObservation[]) {
  const answer = await unwrap(
    api.POST('/api/classes/{class}/observations', {
      params: { path: { class: classId } },
      body: { observations },
    }),
  );
  return answer.results;
}

/** Sends work on instruments' markers through the API. */
export async function sendTapes(classId: string, entries: NewTapeEntry[]) {
  const answer = await unwrap(
    api.POST('/api/classes/{class}/tapes/log', { params: { path: { class: classId } }, body: { entries } }),
  );
  return answer.results;
}

/** Sends what happened in rounds through the API. */
export async function sendEvents(classId: string, events: RoundEvent[]) {
  const answer = await unwrap(
    api.POST('/api/classes/{class}/round/events', { params: { path: { class: classId } }, body: { events } }),
  );
  return answer.results;
}

/** Sends what families answered through the API. */
export async function sendAnswers(classId: string, answers: FamilyAnswer[]) {
  const answer = await unwrap(
    api.POST('/api/classes/{class}/home/answers', {
      params: { path: { class: classId } },
      body: { answers },
    }),
  );
  return answer.results;
}
