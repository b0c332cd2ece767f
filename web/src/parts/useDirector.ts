import { useQuery } from '@tanstack/react-query';
import { classesQuery } from '../api/queries';

/** Whether whoever is signed in directs this class; the others look on and record. */
export function useDirector(classId: string): boolean {
  const classes = useQuery(classesQuery);
  return classes.data?.find(({ id }) => id === classId)?.role === 'director';
}
