import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Outlet, useParams } from 'react-router';
import type { Session } from '../api/client';
import { sessionQuery } from '../api/queries';
import { outboxesOf } from '../offline/useOutbox';
import { Failed, Loading } from '../parts/Message';
import { AppShell } from './AppShell';
import { loadSoon, signOutDialog } from './soon';

const signIn = () => import('../pages/accounts/SignInPage');
// Whoever is signed in already does not wait for the form.
const SignInPage = lazy(() => signIn().then((module) => ({ default: module.SignInPage })));
const SignInOver = lazy(() => signIn().then((module) => ({ default: module.SignInOver })));

const SignOutDialog = lazy(() => signOutDialog().then((module) => ({ default: module.SignOutDialog })));

/** Whoever is signed in gets the page that is open; everybody else the sign-in form, over it where a session ended. */
export function Start() {
  const session = useQuery(sessionQuery);
  // Whoever was signed in on this page; when the session ends the page stays as it is, under the sign-in form.
  const [known, setKnown] = useState<Session | null>(null);
  if (session.data && session.data !== known) setKnown(session.data);
  const owner = session.data?.email;
  // While the sign-in form lies over the page, what is on its way waits in it.
  useEffect(() => {
    if (owner !== undefined) void outboxesOf(owner);
  }, [owner]);

  useEffect(loadSoon, []);

  if (session.error && !known) return <Failed error={session.error} onRetry={() => void session.refetch()} />;
  if (session.data === undefined) return <Loading what="Opening" />;
  return (
    <Suspense fallback={<Loading what="Opening" />}>
      {known ? <SignedIn session={known} /> : <SignInPage />}
      {known && session.data === null && <SignInOver />}
    </Suspense>
  );
}

/** The page that is open, in the shell. */
function SignedIn({ session }: { session: Session }) {
  const { classId } = useParams();
  const [leaving, setLeaving] = useState(false);
  return (
    <AppShell base={classId && `/class/${classId}`} onSignOut={() => setLeaving(true)}>
      {leaving && (
        <Suspense>
          <SignOutDialog email={session.email} onStay={() => setLeaving(false)} />
        </Suspense>
      )}
      <Outlet context={session} />
    </AppShell>
  );
}
