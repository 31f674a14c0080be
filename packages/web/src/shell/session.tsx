import { useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext } from 'react';
import { ApiError, type Reply, setCsrf } from '../api/call.ts';
import { useGet } from '../api/hooks.ts';
import { Notice } from '../parts/Notice.tsx';
import { setZone } from '../parts/when.ts';
import { SignIn } from '../places/signIn/SignIn.tsx';

export type Session = Reply<'GET /api/session'>;

export const SessionContext = createContext<Session | null>(null);

/** Who is signed in; only below {@link WithSession}. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('no session here');
  return session;
}

/** Shows what it holds to members, and the sign-in page to everybody else, at the same address. */
export function WithSession({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const session = useGet('GET /api/session');
  if (session.data && !session.isError) {
    setCsrf(session.data.csrf);
    setZone(session.data.zone);
    return <SessionContext value={session.data}>{children}</SessionContext>;
  }
  if (session.error instanceof ApiError && session.error.status === 401) {
    return <SignIn onSignedIn={() => client.resetQueries()} />;
  }
  return session.error ? <Notice error={session.error} /> : null;
}
