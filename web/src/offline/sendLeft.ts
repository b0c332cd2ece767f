import { ApiProblem } from '../api/client';
import type { Made } from './outbox';
import { sendAnswers, sendEvents, sendObservations, sendTapes } from './sending';
import { keepingOf, offlineStore } from './store';

interface Item {
  id: string;
}

/** Sends what one box keeps, which is what it was given. */
type Send = (classId: string, items: Item[]) => Promise<unknown>;

/** Who was signed in here last for a time: by id, without a name. */
const LAST = 'last';

/** Somebody is signed in for a time only: what they leave behind is sent when it is over. */
export async function rememberSubstitute(owner: string | undefined): Promise<void> {
  const store = await offlineStore.open();
  await (owner === undefined
    ? store.delete('answers', LAST)
    : store.put('answers', { key: LAST, value: owner }));
}

/** Sends what one box keeps of somebody; what the server has answered for is kept no longer. */
async function sendBox(box: string, owner: string, send: Send): Promise<void> {
  const keeping = keepingOf<Item>(box);
  const { waiting } = await keeping.load(owner);
  for (const classId of new Set(waiting.map((one) => one.classId))) {
    const made: Made<Item>[] = waiting.filter((one) => one.classId === classId);
    try {
      await send(
        classId,
        made.map(({ item }) => item),
      );
    } catch (error) {
      // What cannot be sent now waits, for its owner and for nobody else.
      if (!(error instanceof ApiProblem) || error.status === 401 || error.status >= 500) return;
    }
    await keeping.remove(made.map(({ item }) => item.id));
  }
}

/**
 * A substitute's time is over: nothing of the class is shown any more, and what could not be sent in time is sent as soon as there is
 * network. The server takes it for what was seen until then.
 */
export async function sendLeft(): Promise<void> {
  try {
    const owner = (await (await offlineStore.open()).get('answers', LAST))?.value as string | undefined;
    if (owner === undefined) return;
    await sendBox('observations', owner, sendObservations as Send);
    await sendBox('events', owner, sendEvents as Send);
    await sendBox('tapes', owner, sendTapes as Send);
    await sendBox('answers', owner, sendAnswers as Send);
  } catch {
    // With the next start.
  }
}
