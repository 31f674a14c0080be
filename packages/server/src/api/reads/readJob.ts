import type { Role } from '@chronicon/core/contract';
import type { Fault } from '../../store/faults.ts';

/** Which of the reads it is: a route of the interface, or a file made of what it shows. */
export type ReadName =
  | 'GET /api/desk'
  | 'GET /api/schedules'
  | 'GET /api/who-gets-what'
  | 'GET /api/almanac'
  | 'GET /api/look-ahead'
  | 'look-ahead.csv'
  | 'calendar.ics'
  | 'calendar.read';

/** Routes that a thread answers; files are asked for by name. */
const ROUTES: readonly string[] = [
  'GET /api/desk',
  'GET /api/schedules',
  'GET /api/who-gets-what',
  'GET /api/almanac',
  'GET /api/look-ahead',
] satisfies ReadName[];

export const isRead = (route: string): route is ReadName => ROUTES.includes(route);

/** A read for a thread: who asks what, of which folder, and what only the asking thread knows. */
export interface ReadJob {
  data: string;
  name: ReadName;
  query: unknown;
  member: { id: string; name: string; email: string; role: Role };
  now: string;
  troubles: readonly Fault[];
}

/** What comes back: the bytes of the reply with how many statements they took, or a refusal in words. */
export type ReadResult =
  | { bytes: Uint8Array; statements: number }
  | { refused: { status: number; message: string; fields: Record<string, string> } };
