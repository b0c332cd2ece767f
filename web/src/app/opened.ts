import { queryClient } from '../api/queries';
import { opening } from './opening';

/** The opening of this page, begun while the rest of the scripts is still read: this module stands first in the application. */
export const opened = opening(queryClient, window.location.pathname);
