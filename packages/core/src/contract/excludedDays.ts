import { z } from 'zod';
import { MOST_EXCLUDED_DAYS, TEXT } from '../bounds/index.ts';
import { isCivilDate, lengthOf } from '../calendar/index.ts';
import { boundedRange, civilDate } from '../report/specs.ts';
import { done, EVERYONE, MAKERS, range, route } from './route.ts';

/** Days that are left out of a client's figures, as screens show them. */
export const excludedDays = range.extend({
  id: z.string(),
  /** For these metrics and what is made of them; for all of them where it is empty. */
  metrics: z.array(z.string()),
  reason: z.string(),
  /** Whether readers are told the reason. */
  printed: z.boolean(),
  madeBy: z.string(),
});
export type ExcludedDaysRow = z.infer<typeof excludedDays>;

export const excludedDaysInput = z
  .object({
    from: civilDate,
    to: civilDate,
    metrics: z.array(z.string().max(60)).max(60, 'Choose at most 60 metrics, or all.'),
    reason: z.string().trim().min(1, 'Enter a reason.').max(TEXT.note, `Maximum ${TEXT.note} characters.`),
    printed: z.boolean(),
  })
  .superRefine(boundedRange)
  .superRefine(({ from, to }, context) => {
    // Dates that are none were refused already.
    if (isCivilDate(from) && isCivilDate(to) && from <= to && lengthOf({ from, to }) > MOST_EXCLUDED_DAYS)
      context.addIssue({
        code: 'custom',
        message: `Exclude at most ${MOST_EXCLUDED_DAYS} days at a time.`,
        path: ['to'],
      });
  });

export const excludedDaysRoutes = {
  'GET /api/clients/:client/excluded-days': route({
    about: 'The excluded days of a client, newest first.',
    roles: EVERYONE,
    reply: z.array(excludedDays),
  }),
  'POST /api/clients/:client/excluded-days': route({
    about: 'Exclude days from a client’s data, for all or some metrics, with a reason.',
    roles: MAKERS,
    body: excludedDaysInput,
    reply: excludedDays,
  }),
  'PUT /api/clients/:client/excluded-days/:excluded': route({
    about: 'Change an exclusion: days, metrics or reason.',
    roles: MAKERS,
    body: excludedDaysInput,
    reply: excludedDays,
  }),
  'DELETE /api/clients/:client/excluded-days/:excluded': route({
    about: 'Remove an exclusion.',
    roles: MAKERS,
    reply: done,
  }),
};
