import { v7 as uuid } from 'uuid';
import type { NewTapeEntry } from '../../api/client';
import { tapeBox } from '../../offline/useOutbox';

/** What is said of an entry beside its id, instrument and moment. */
export type Work = Omit<NewTapeEntry, 'id' | 'asset' | 'at'>;

/** Work on one instrument: in its log at once, kept until the server has it, taken back by an entry of its own. */
export function useWork(classId: string, asset: string, tag: string) {
  const log = (work: Work, label: string): string => {
    const id = uuid();
    tapeBox.add(classId, { ...work, id, asset, at: new Date().toISOString() }, `${tag}, ${label}`);
    return id;
  };
  return {
    log,
    undo: (event: string, label: string) => log({ kind: 'undone', event }, `undo of ${label}`),
  };
}

export type Log = ReturnType<typeof useWork>['log'];
