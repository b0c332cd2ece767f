import { refreshClass } from '../api/queries';
import { useSent } from './useSent';

/** Something sent about a class, which is read again. */
export const useAction = (classId: string) => useSent(() => refreshClass(classId));
