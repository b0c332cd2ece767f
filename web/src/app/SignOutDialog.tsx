import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { api, unwrap } from '../api/client';
import { forgetAnswers } from '../offline/cachedAnswers';
import { forgetSettings } from '../offline/sharedDevice';
import { waitingOf } from '../offline/store';
import { outboxesOf } from '../offline/useOutbox';
import { count } from '../words/text';
import { tellOtherPages } from './otherPages';

/** Ends the session, and with it everything this device knows but what is still on its way. */
async function signOut(): Promise<void> {
  await unwrap(api.DELETE('/api/session'));
  await outboxesOf(undefined);
  await forgetAnswers();
  forgetSettings();
  tellOtherPages();
  window.location.assign('/');
}

interface Props {
  account: string;
  /** A substitute does not come back: what waits is sent as soon as there is network. */
  comesBack: boolean;
  onStay: () => void;
}

/** Signs out, at once where nothing waits; asks first where something has not been sent yet. */
export function SignOutDialog({ account, comesBack, onStay }: Props) {
  const waiting = useQuery({
    queryKey: ['waiting', account],
    queryFn: () => waitingOf(account).catch(() => 0),
    gcTime: 0,
    staleTime: 0,
  });
  const { mutate, isPending, isError } = useMutation({ mutationFn: signOut });
  const nothingWaits = waiting.data === 0;
  useEffect(() => {
    if (nothingWaits) mutate();
  }, [nothingWaits, mutate]);
  if (waiting.data === undefined || (nothingWaits && !isError)) return null;
  return (
    <Dialog open onClose={onStay} aria-labelledby="sign-out-title">
      <DialogTitle id="sign-out-title" variant="h2">
        Sign out?
      </DialogTitle>
      <DialogContent>
        {waiting.data > 0 &&
          `${count(waiting.data, 'entry', 'entries')} not sent yet. What you noted stays on this device and goes on its way when you sign in here again.${comesBack ? '' : ' You will not: wait for network before you hand the device back.'}`}
        {isError && (
          <Alert severity="warning">
            The server does not answer, so you are still signed in. Everything is kept; try again with
            network.
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onStay}>Stay</Button>
        <Button variant="contained" loading={isPending} onClick={() => mutate()}>
          Sign out
        </Button>
      </DialogActions>
    </Dialog>
  );
}
