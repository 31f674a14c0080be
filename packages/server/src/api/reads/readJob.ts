import type { Role } from '@chronicon/core/contract';
import type { Fault } from '../../store/faults.ts';

/** Routes of the interface that a thread answers. */
export const READ_ROUTES = [
  'GET /api/desk',
  'GET /api/schedules',
  'GET /api/who-gets-what',
  'GET /api/almanac',
  'GET /api/look-ahead',
  'GET /api/members',
] as const;
export type ReadRoute = (typeof READ_ROUTES)[number];

export const isRead = (route: string): route is ReadRoute => READ_ROUTES.includes(route as ReadRoute);

/** Which of the reads it is: a route, a file made of all that a member sees, or a file that somebody brought. */
export type ReadName =
  | ReadRoute
  | 'look-ahead.csv'
  | 'calendar.ics'
  | 'calendar.read'
  | 'template.following'
  | 'template.followed';

/** A read for a thread: who asks what, of which folder, and what only the asking thread knows. */
export interface ReadJob {
  data: string;
  name: ReadName;
  query: unknown;
  member: { id: string; name: string; email: string; role: Role };
  now: string;
  troubles: readonly Fault[];
}

/** What comes back: the bytes of the reply with how many statements they took, a refusal in words, or what the system said. */
export type ReadResult =
  | { bytes: Uint8Array; statements: number }
  | { refused: { status: number; message: string; fields: Record<string, string> } }
  | { broken: { code: string; message: string } };
