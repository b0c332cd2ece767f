import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import { useQuery } from '@tanstack/react-query';
import { firstRunQuery } from '../../api/queries';
import { Read } from '../../parts/page';
import { FirstRun } from './FirstRun';
import { SignIn } from './SignInForm';

/** In front of everything: signing in, or making the first account. */
export function SignInPage() {
  const firstRun = useQuery(firstRunQuery);
  return (
    <Box component="main" sx={{ minHeight: '100dvh', display: 'grid', placeItems: 'center', p: 3 }}>
      <Read query={firstRun} what="Opening">
        {({ wanted }) => (wanted ? <FirstRun /> : <SignIn />)}
      </Read>
    </Box>
  );
}

/** Over a page whose session has ended. */
export function SignInOver() {
  return (
    <Dialog open slotProps={{ paper: { 'aria-label': 'Sign in again' } }}>
      <DialogContent>
        <SignIn again />
      </DialogContent>
    </Dialog>
  );
}
