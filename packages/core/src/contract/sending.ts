import { z } from 'zod';
import { done, EVERYONE, MANAGERS, route } from './route.ts';

const stop = z.object({
  cause: z.enum(['person', 'mail-server', 'copy', 'disk', 'key', 'database', 'busy']),
  reason: z.string(),
  /** The one thing that mends it. */
  mend: z.string(),
  since: z.string().nullable(),
  by: z.string().nullable(),
});
export type Stop = z.infer<typeof stop>;

export const sendingRoutes = {
  'GET /api/sending': route({
    about: 'Whether emails are being sent, and what stops them.',
    roles: EVERYONE,
    reply: z.object({
      stops: z.array(stop),
      /** Of a copied data folder: what fell due since it was last alive, to be ticked where it was sent elsewhere. */
      due: z.array(
        z.object({
          edition: z.string(),
          label: z.string(),
          at: z.string(),
          local: z.object({ date: z.string(), time: z.string() }),
          readers: z.int(),
        }),
      ),
      lastBeat: z.string().nullable(),
      /** None go until this time of the agency’s clock, since it is night; null by day. */
      quietUntil: z.string().nullable(),
      /** Mails within a minute at most; null for any number. */
      perMinute: z.int().nullable(),
      /** Whether an edition waits for a person where an odd day turns a verdict round. */
      waitsForOddDays: z.boolean(),
    }),
  }),
  'PUT /api/sending': route({
    about: 'Stop or resume all sending, for all clients.',
    roles: MANAGERS,
    body: z.object({ on: z.boolean() }),
    reply: done,
  }),
  'PUT /api/sending/odd-days': route({
    about: 'Choose whether a scheduled edition is held or sent with a note if an unusual day reverses a trend.',
    roles: ['owner'],
    body: z.object({ wait: z.boolean() }),
    reply: done,
  }),
  'POST /api/sending/go': route({
    about: 'Enable sending for a copied data folder; what was already sent elsewhere is skipped.',
    roles: ['owner'],
    body: z.object({ sentAlready: z.array(z.string()).max(5_000) }),
    reply: done,
  }),
};
