import { useQuery } from '@tanstack/react-query';
import { Navigate, useNavigation, useOutletContext } from 'react-router';
import type { Session } from '../api/client';
import { classesQuery } from '../api/queries';
import { Loading } from '../parts/Message';
import { NewClass } from '../parts/NewClass';
import { Read } from '../parts/page';

/** The room of the first class; without a class, making one. */
export function FirstRoom() {
  const session = useOutletContext<Session>();
  const classes = useQuery(classesQuery);
  // Whoever tapped another page meanwhile is on the way there.
  const onTheWay = useNavigation().state !== 'idle';
  if (onTheWay) return <Loading what="Opening" />;
  return (
    <Read query={classes} what="Opening">
      {([first]) =>
        first ? (
          // Who comes for a morning reads the next lesson and its cautions first.
          <Navigate to={`/class/${first.id}/${first.looksBack ? 'room' : 'lessons/next'}`} replace />
        ) : session.programs[0]?.wantsSecondFactor ? (
          <Navigate to={`/school/${session.programs[0].id}`} replace />
        ) : (
          <NewClass session={session} />
        )
      }
    </Read>
  );
}
