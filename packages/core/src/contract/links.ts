import { z } from 'zod';
import { done, route } from './route.ts';
import { mailAddress } from './session.ts';

const secret = z.string().max(100);

export const linkRoutes = {
  'POST /api/reset': route({
    about: 'Request a password reset link; the response is the same for every address.',
    roles: 'open',
    body: z.object({ email: mailAddress }),
    reply: done,
  }),
  'POST /api/links/look': route({
    about: 'What a link in an email is for.',
    roles: 'open',
    body: z.object({ secret }),
    reply: z.object({
      purpose: z.enum(['invite', 'reset', 'let-in']),
      name: z.string(),
      email: z.string(),
      agency: z.string(),
      /** Characters that a password has at least. */
      least: z.int(),
    }),
  }),
  'POST /api/links/use': route({
    about: 'Set a password with a link, once.',
    roles: 'open',
    body: z.object({ secret, password: z.string().max(1_000, 'This is too long.') }),
    reply: z.object({ email: z.string() }),
  }),
};
