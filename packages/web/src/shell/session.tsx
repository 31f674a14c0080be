import { useMantineColorScheme } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect } from 'react';
import { ApiError, setCsrf } from '../api/call.ts';
import { useGet } from '../api/hooks.ts';
import { Notice } from '../parts/Notice.tsx';
import { setZone } from '../parts/when.ts';
import { LINK } from '../places/link/address.ts';
import { SetUpFactor } from '../places/me/SetUpFactor.tsx';
import { SignIn } from '../places/signIn/SignIn.tsx';
import { router } from '../router.tsx';
import { SessionContext } from './sessionContext.ts';

/** Shows what it holds to members, and the sign-in page to everybody else, at the same address. */
export function WithSession({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const session = useGet('GET /api/session');
  const { setColorScheme } = useMantineColorScheme();
  const scheme = session.data?.scheme;
  useEffect(() => {
    if (scheme) setColorScheme(scheme === 'system' ? 'auto' : scheme);
  }, [scheme, setColorScheme]);
  const comeIn = async () => {
    // The page that a link opened is done with.
    if (router.state.location.pathname === LINK) await router.navigate('/', { replace: true });
    await client.resetQueries();
  };
  // Where a link of a mail leads is for whoever has the mail, whoever is signed in here.
  if (location.pathname === LINK) return <SignIn onSignedIn={comeIn} />;
  if (session.data && !session.isError) {
    setCsrf(session.data.csrf);
    setZone(session.data.zone);
    return (
      <SessionContext value={session.data}>{session.data.mustSetUpFactor ? <SetUpFactor /> : children}</SessionContext>
    );
  }
  if (session.error instanceof ApiError && session.error.status === 401) {
    return <SignIn onSignedIn={comeIn} />;
  }
  return session.error ? <Notice error={session.error} /> : null;
}
