import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import { useQuery } from '@tanstack/react-query';
import { firstVisitQuery } from '../../api/queries';
import { Failed, Loading } from '../../parts/Message';
import { FirstVisit } from './FirstVisit';
import { SignIn } from './SignIn';

/** In front of everything: signing in, or making the first account. */
export function Door() {
  const visit = useQuery(firstVisitQuery);
  return (
    <Box component="main" sx={{ minHeight: '100dvh', display: 'grid', placeItems: 'center', p: 3 }}>
      {visit.data ? (
        visit.data.wanted ? (
          <FirstVisit />
        ) : (
          <SignIn />
        )
      ) : visit.error ? (
        <Failed error={visit.error} onRetry={() => void visit.refetch()} />
      ) : (
        <Loading what="Opening" />
      )}
    </Box>
  );
}

/** Over a page whose session has ended. */
export function DoorOver() {
  return (
    <Dialog open slotProps={{ paper: { 'aria-label': 'Sign in again' } }}>
      <DialogContent>
        <SignIn again />
      </DialogContent>
    </Dialog>
  );
}
