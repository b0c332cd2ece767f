import { useQuery } from '@tanstack/react-query';
import type { Instrument, Schemas } from '../api/client';
import { rulesQuery } from '../api/queries';

/** An instrument's strings as the class tunes them, and what its fingers stop; nothing until they are there. */
export function useTunedStrings(
  classId: string,
  instrument: Instrument,
): Schemas['TunedString'][] | undefined {
  const { data } = useQuery(rulesQuery(classId));
  return data?.strings.find((one) => one.instrument === instrument)?.strings;
}
