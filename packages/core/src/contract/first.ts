import { z } from 'zod';
import { agencyInput } from './agency.ts';
import { route } from './route.ts';
import { mailAddress, memberName, sessionReply } from './session.ts';

export const firstInput = agencyInput.extend({
  /** What the server printed when it started. */
  secret: z.string().max(100),
  owner: z.object({ name: memberName, email: mailAddress, password: z.string().max(1_000, 'This is too long.') }),
});
export type FirstInput = z.infer<typeof firstInput>;

export const firstRoutes = {
  'POST /api/first': route({
    about: 'Create the agency and its first owner, once, with the secret the server printed; signs the owner in.',
    roles: 'open',
    body: firstInput,
    reply: sessionReply,
  }),
};
