import { useRef } from 'react';
import { v7 as uuid } from 'uuid';

/**
 * An id for what is sent: the same for the same, so that what is sent again after an answer that got lost is not one more; another
 * one for anything else, and for the same once it is `done`.
 */
export function useIdFor(): { idFor: (content: unknown) => string; done: () => void } {
  const ids = useRef(new Map<string, string>());
  return {
    idFor: (content) => {
      const key = JSON.stringify(content);
      const id = ids.current.get(key) ?? uuid();
      ids.current.set(key, id);
      return id;
    },
    done: () => ids.current.clear(),
  };
}
