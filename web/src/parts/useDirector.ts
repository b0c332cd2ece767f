import { useQuery } from '@tanstack/react-query';
import { classesQuery } from '../api/queries';

/** Whether whoever is signed in may change this class; the others look on and record, and in an archived one everybody. */
export function useDirector(classId: string): boolean {
  const classes = useQuery(classesQuery);
  return classes.data?.find(({ id }) => id === classId)?.mayChange ?? false;
}
