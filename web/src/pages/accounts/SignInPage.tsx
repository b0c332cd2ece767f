import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { firstRunQuery } from '../../api/queries';
import { Read } from '../../parts/page';
import { FirstRun } from './FirstRun';
import { OnADoor } from './OnADoor';
import { SignIn } from './SignInForm';

/** In front of everything: signing in, or making the first account. `ended`: somebody's time on this device is over. */
export function SignInPage({ ended = false }: { ended?: boolean }) {
  const firstRun = useQuery(firstRunQuery);
  const lead = ended ? 'Your time here is over; what you saw is with the class. Thank you.' : undefined;
  return (
    <OnADoor>
      <Read query={firstRun} what="Opening">
        {({ wanted, demo }) =>
          demo ? <Demo own={wanted} /> : wanted ? <FirstRun /> : <SignIn {...(lead && { lead })} />
        }
      </Read>
    </OnADoor>
  );
}

/** The demo school is here, and this is the server's own machine. */
function Demo({ own }: { own: boolean }) {
  const [begin, setBegin] = useState(false);
  if (begin) return <FirstRun />;
  return (
    <Box sx={{ display: 'grid', gap: 2, maxWidth: 460 }}>
      <SignIn />
      <Alert severity="info" role="note">
        The demo school is here: director@demo.example, or assistant@demo.example, with the password
        bright-row-demo. Everybody knows it, so it works on this machine only.
      </Alert>
      {own && (
        <Button onClick={() => setBegin(true)} sx={{ justifySelf: 'start' }}>
          Begin with your own school
        </Button>
      )}
    </Box>
  );
}

/** In the place of a page whose session has ended. */
export function SignInOver({ account }: { account: string }) {
  return (
    <OnADoor name="Sign in again">
      <SignIn again={account} />
    </OnADoor>
  );
}
