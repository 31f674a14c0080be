import { createContext, useContext } from 'react';
import type { Reply } from '../api/call.ts';

export type Session = Reply<'GET /api/session'>;

export const SessionContext = createContext<Session | null>(null);

/** Who is signed in; only below {@link WithSession}. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('no session here');
  return session;
}
