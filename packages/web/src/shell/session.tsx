import { useMantineColorScheme } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense, useEffect } from 'react';
import { ApiError, setCsrf } from '../api/call.ts';
import { useGet } from '../api/hooks.ts';
import { Notice } from '../parts/Notice.tsx';
import { setZone } from '../parts/when.ts';
import { LINK } from '../places/link/address.ts';
import { router } from '../router.tsx';
import { SessionContext } from './sessionContext.ts';

/** Who is signed in does not wait for what they do not see. */
const SetUpFactor = lazy(async () => ({ default: (await import('../places/me/SetUpFactor.tsx')).SetUpFactor }));
const SignIn = lazy(async () => ({ default: (await import('../places/signIn/SignIn.tsx')).SignIn }));

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
  const signIn = (
    <Suspense>
      <SignIn onSignedIn={comeIn} />
    </Suspense>
  );
  if (location.pathname === LINK) return signIn;
  if (session.data && !session.isError) {
    setCsrf(session.data.csrf);
    setZone(session.data.zone);
    return (
      <SessionContext value={session.data}>
        {session.data.mustSetUpFactor ? (
          <Suspense>
            <SetUpFactor />
          </Suspense>
        ) : (
          children
        )}
      </SessionContext>
    );
  }
  if (session.error instanceof ApiError && session.error.status === 401) {
    return signIn;
  }
  return session.error ? <Notice error={session.error} /> : null;
}
