import { classesQuery, pathOf, queryClient, sessionQuery } from '../../api/queries';
import { useSent } from '../../parts/useSent';

/** Everything that may follow from a change of a school: its own pages, the classes, who one is in it. */
const FOLLOWS = ['/api/programs/', pathOf(classesQuery), pathOf(sessionQuery)];

/** Something sent about a school; its pages are read again. */
export const useSend = () =>
  useSent(() =>
    queryClient.invalidateQueries({
      predicate: (query) => FOLLOWS.some((path) => pathOf(query).startsWith(path)),
    }),
  );
