import { z } from 'zod';
import { done, EVERYONE, ROLES, route } from './route.ts';

const member = z.object({ id: z.string(), name: z.string(), email: z.string(), role: z.enum(ROLES) });

export const mailAddress = z.email('Enter a valid email address.').max(200);

export const memberName = z.string().trim().min(1, 'Enter a name.').max(120, 'Maximum 120 characters.');

/** What every screen needs to know of where it is. */
export const sessionReply = z.object({
  member,
  agency: z.string(),
  /** Whose clock the screens show. */
  zone: z.string(),
  /** To be sent back as `x-csrf-token` with everything that changes something. */
  csrf: z.string(),
  now: z.string(),
  scheme: z.enum(['light', 'dark', 'system']),
  /** Nothing else is served before a second factor is set up. */
  mustSetUpFactor: z.boolean(),
  /** Present when the server was started as a demo. */
  demo: z.object({ mailbox: z.string(), services: z.string(), token: z.string() }).nullable(),
});

export const sessionRoutes = {
  'GET /api/health': route({
    about: 'Health of the server: databases, disk, key, and sending. Answers 503 if something fails.',
    roles: 'open',
    reply: z.object({
      /** Nothing is wrong that a person has to mend. */
      ok: z.boolean(),
      databases: z.boolean(),
      disk: z.boolean(),
      key: z.boolean(),
      /** What stops mails, by its code; empty while they go. */
      stopped: z.array(z.string()),
      /** When the longest overdue edition was due that the server itself should have moved on; null when there is none. */
      overdueSince: z.string().nullable(),
      /** What is wrong, in words; null while all is well. */
      reason: z.string().nullable(),
      lastBeat: z.string().nullable(),
    }),
  }),
  'GET /api/sign-in': route({
    about: 'What the sign-in page shows; only a demo offers accounts.',
    roles: 'open',
    reply: z.object({
      agency: z.string(),
      demo: z
        .array(z.object({ name: z.string(), email: z.string(), password: z.string(), role: z.string() }))
        .nullable(),
      /** Where there is no agency yet: what its form offers. */
      first: z.object({ languages: z.array(z.object({ value: z.string(), label: z.string() })).readonly() }).nullable(),
    }),
  }),
  'POST /api/session': route({
    about: 'Sign in.',
    roles: 'open',
    body: z.object({
      email: z.string().max(200),
      password: z.string().max(1_000),
      /** Of the second factor, or a recovery code; asked for once the password was right. */
      code: z.string().max(40).default(''),
    }),
    reply: sessionReply,
  }),
  'GET /api/session': route({ about: 'Who is signed in.', roles: EVERYONE, reply: sessionReply }),
  'DELETE /api/session': route({ about: 'Sign out.', roles: EVERYONE, reply: done }),
  'POST /api/demo/clock': route({
    about: 'Move a demo’s clock forward, and wait until everything due is done.',
    roles: EVERYONE,
    body: z.object({ to: z.iso.datetime('Enter an ISO 8601 date and time.') }),
    reply: z.object({ now: z.string() }),
  }),
};
