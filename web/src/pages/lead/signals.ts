import { useCallback, useState } from 'react';
import { v4 as uuid } from 'uuid';
import { api } from '../../api/client';
import { ofClass } from '../../api/queries';
import { useLive, type LeadSignal } from '../../api/live';

/** What a page says; which page it is comes with it. */
export type Saying = Omit<LeadSignal, 'page'>;

/** Speaks with the other pages of this account that lead a drill of the class or steer one. */
export function useSignals(classId: string, onSignal: (signal: LeadSignal) => void): (what: Saying) => void {
  const [page] = useState(() => uuid());
  const others = useCallback(
    (signal: LeadSignal) => {
      if (signal.page !== page) onSignal(signal);
    },
    [page, onSignal],
  );
  useLive(classId, others);
  return useCallback(
    (what: Saying) => {
      // Without network the drill goes on here; the others hear nothing.
      void api
        .POST('/api/classes/{class}/lead', { ...ofClass(classId), body: { ...what, page } })
        .catch(() => undefined);
    },
    [classId, page],
  );
}
