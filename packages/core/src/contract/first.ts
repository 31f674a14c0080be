import { z } from 'zod';
import { SETTINGS } from '../client/index.ts';
import { route } from './route.ts';
import { memberName, sessionReply } from './session.ts';

const mail = z.email('This is no mail address: it should look like name@place.example.').max(200);

export const firstInput = z.object({
  /** What the server printed when it started. */
  secret: z.string().max(100),
  name: memberName,
  zone: SETTINGS.zone.schema,
  language: SETTINGS.language.schema,
  weekStart: SETTINGS.weekStart.schema,
  workingDays: z.array(z.int().min(1).max(7)).min(1, 'Choose at least one day.').max(7),
  /** The address that reports come from. */
  mailFrom: mail,
  owner: z.object({ name: memberName, email: mail, password: z.string().max(1_000, 'This is too long.') }),
});
export type FirstInput = z.infer<typeof firstInput>;

export const firstRoutes = {
  'POST /api/first': route({
    about: 'Make the agency and its first owner, once, with the secret that the server printed; signs the owner in.',
    roles: 'open',
    body: firstInput,
    reply: sessionReply,
  }),
};
