import { z } from 'zod';
import { done, EVERYONE, route } from './route.ts';
import { memberName } from './session.ts';

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

/** What a member set for themselves. */
export const memberSettings = z.object({
  /** Whether they are told by mail of what is held or late; what happens to their sign-in is told in any case. */
  notices: z.boolean().default(true),
  scheme: z.enum(['light', 'dark', 'system']).default('system'),
});
export type MemberSettings = z.infer<typeof memberSettings>;

const codes = z.object({ codes: z.array(z.string()) });

/** What every member does about themselves and their own sign-in. */
export const meRoutes = {
  'GET /api/me': route({
    about: 'Your settings, and two-factor authentication.',
    roles: EVERYONE,
    reply: z.object({
      name: z.string(),
      settings: memberSettings,
      /** Since when there is one, and how many recovery codes are left. */
      factor: z.object({ since: z.string(), codesLeft: z.int() }).nullable(),
      /** The agency asks for one of one’s role. */
      factorWanted: z.boolean(),
      /** Characters that one's password has at least. */
      least: z.int(),
      /** Hours after its last use that a session ends. */
      idleHours: z.int(),
    }),
  }),
  'PUT /api/me': route({
    about: 'Change your name and settings.',
    roles: EVERYONE,
    body: memberSettings.extend({ name: memberName }),
    reply: done,
  }),
  'POST /api/session/factor/begin': route({
    about: 'Start two-factor setup (TOTP, RFC 6238): a secret for the authenticator app, shown once.',
    roles: EVERYONE,
    body: z.object({ password }),
    reply: z.object({ secret: z.string(), uri: z.string() }),
  }),
  'POST /api/session/factor': route({
    about: 'Finish two-factor setup with a code; the response contains recovery codes, shown once.',
    roles: EVERYONE,
    body: z.object({ code: z.string().max(40) }),
    reply: codes,
  }),
  'POST /api/session/factor/codes': route({
    about: 'Create new recovery codes; earlier ones stop working.',
    roles: EVERYONE,
    body: z.object({ password }),
    reply: codes,
  }),
  'DELETE /api/session/factor': route({
    about: 'Turn off your two-factor authentication.',
    roles: EVERYONE,
    body: z.object({ password }),
    reply: done,
  }),
  'PUT /api/session/password': route({
    about: 'Change your password; all your other sessions end.',
    roles: EVERYONE,
    body: z.object({ current: password, next: password }),
    reply: done,
  }),
  'GET /api/sessions': route({
    about: 'Your sessions: the current one, then most recently used first.',
    roles: EVERYONE,
    reply: z.array(sessionRow),
  }),
  'DELETE /api/sessions': route({
    about: 'End all your other sessions.',
    roles: EVERYONE,
    reply: done,
  }),
  'DELETE /api/sessions/:session': route({ about: 'End one of your sessions.', roles: EVERYONE, reply: done }),
};
