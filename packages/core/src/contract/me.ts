import { z } from 'zod';
import { done, EVERYONE, route } from './route.ts';

const password = z.string().max(1_000, 'This is too long.');

const sessionRow = z.object({
  id: z.string(),
  /** When it began, and when it was last used. */
  since: z.string(),
  seen: z.string(),
  address: z.string(),
  /** The browser and its system, as people call them. */
  device: z.string(),
  /** The one that asks. */
  current: z.boolean(),
});
export type SessionRow = z.infer<typeof sessionRow>;

/** What every member does about their own sign-in. */
export const meRoutes = {
  'PUT /api/session/password': route({
    about: 'Change one’s own password; all other sessions of the member end.',
    roles: EVERYONE,
    body: z.object({ current: password, next: password }),
    reply: done,
  }),
  'GET /api/sessions': route({
    about: 'One’s own sessions: the one that asks, then the last used first.',
    roles: EVERYONE,
    reply: z.array(sessionRow),
  }),
  'DELETE /api/sessions': route({
    about: 'End all of one’s own sessions but the one that asks.',
    roles: EVERYONE,
    reply: done,
  }),
  'DELETE /api/sessions/:session': route({ about: 'End one of one’s own sessions.', roles: EVERYONE, reply: done }),
};
