import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { Suspense, useEffect, useState } from 'react';
import { Outlet, useParams } from 'react-router';
import type { Session } from '../api/client';
import { classesQuery, queryClient, sessionQuery } from '../api/queries';
import { forgetAnswers } from '../offline/cachedAnswers';
import { rememberSubstitute, sendLeft } from '../offline/sendLeft';
import { outboxesOf } from '../offline/useOutbox';
import { Failed, Loading } from '../parts/Message';
import { AppShell } from './AppShell';
import { lazyPart } from './newerBuild';
import { loadSoon, signOutDialog } from './soon';
import { tellOtherPages, useOtherPages } from './otherPages';

const signIn = () => import('../pages/accounts/SignInPage');
// Whoever is signed in already does not wait for the form.
const SignInPage = lazyPart(async () => (await signIn()).SignInPage);
const SignInOver = lazyPart(async () => (await signIn()).SignInOver);

const SignOutDialog = lazyPart(async () => (await signOutDialog()).SignOutDialog);

/** The longest a browser's timer waits, in milliseconds. */
const LONGEST_TIMER = 2 ** 31 - 1;

/** At the end of a session the server is asked whether it goes on; without an answer it does not. */
function useEnd(session: Session | null | undefined): void {
  const keepsUntil = session?.keepsUntil;
  useEffect(() => {
    if (keepsUntil === undefined) return;
    const over = async () => {
      const asked = await queryClient.query({ ...sessionQuery, staleTime: 0 }).catch(() => undefined);
      if (asked === undefined) queryClient.setQueryData(sessionQuery.queryKey, null);
    };
    const left = Math.min(Date.parse(keepsUntil) - Date.now(), LONGEST_TIMER);
    const timer = window.setTimeout(() => void over(), Math.max(left, 0));
    return () => window.clearTimeout(timer);
  }, [keepsUntil]);
}

/** A class that somebody could open until now and may not any more goes out of sight, and off this device. */
function useTakenAway(classId: string | undefined): void {
  const { data: classes } = useQuery(classesQuery);
  const [had, setHad] = useState<string>();
  const has = classes?.some(({ id }) => id === classId);
  if (has && classId !== had) setHad(classId);
  const taken = has === false && classId !== undefined && had === classId;
  useEffect(() => {
    if (taken) void forgetAnswers().then(() => window.location.assign('/'));
  }, [taken]);
}

/** Whoever is signed in gets the page that is open; everybody else the sign-in form, in its place where a session ended. */
export function Start() {
  const session = useQuery(sessionQuery);
  // Whoever was signed in on this page; when the session ends what they typed stays in it, out of sight.
  const [known, setKnown] = useState<Session | null>(null);
  if (session.data && session.data !== known) setKnown(session.data);
  const owner = session.data?.account;
  const address = session.data?.email;
  const nobody = session.data === null;
  // While the page is out of sight, what is on its way waits in it.
  useEffect(() => {
    if (owner === undefined) return;
    void outboxesOf(owner, address);
    void rememberSubstitute(address === '' ? owner : undefined).catch(() => undefined);
  }, [owner, address]);
  useEffect(() => {
    if (!nobody) return;
    tellOtherPages();
    void sendLeft();
    const again = () => void sendLeft();
    window.addEventListener('online', again);
    return () => window.removeEventListener('online', again);
  }, [nobody]);
  useEnd(session.data);
  useOtherPages();

  useEffect(loadSoon, []);

  if (session.error && !known) return <Failed error={session.error} onRetry={() => void session.refetch()} />;
  if (session.data === undefined) return <Loading what="Opening" />;
  // Somebody who came for a time does not come back: nothing is kept for them.
  const comesBack = known !== null && known.email !== '';
  return (
    <Suspense fallback={<Loading what="Opening" />}>
      {known && (!nobody || comesBack) && (
        <Box sx={{ display: nobody ? 'none' : 'contents' }} inert={nobody}>
          <SignedIn session={known} />
        </Box>
      )}
      {nobody && (comesBack ? <SignInOver account={known.account} /> : <SignInPage ended={known !== null} />)}
    </Suspense>
  );
}

/** The page that is open, in the shell. */
function SignedIn({ session }: { session: Session }) {
  const { classId } = useParams();
  const [leaving, setLeaving] = useState(false);
  // Beside a page of no class the last one stays a tap away, or the first one.
  const [last, setLast] = useState(classId);
  if (classId !== undefined && classId !== last) setLast(classId);
  const classes = useQuery(classesQuery);
  const nearest = last ?? classes.data?.[0]?.id;
  useTakenAway(classId);
  return (
    <AppShell classId={nearest} session={session} onSignOut={() => setLeaving(true)}>
      {leaving && (
        <Suspense>
          <SignOutDialog
            account={session.account}
            comesBack={session.email !== ''}
            onStay={() => setLeaving(false)}
          />
        </Suspense>
      )}
      <Outlet context={session} />
    </AppShell>
  );
}
