import { z } from 'zod';
import { OWN_UNITS } from '../figures/index.ts';
import { boundedNumber, civilDate } from '../report/specs.ts';
import { done, EVERYONE, MAKERS, route } from './route.ts';

const column = z.object({ metric: z.string(), label: z.string(), unit: z.string() });

export const typedRoutes = {
  'POST /api/clients/:client/typed': route({
    about: 'Create a manual feed, by month or week.',
    roles: MAKERS,
    body: z.object({
      name: z.string().trim().min(1, 'Enter a name.').max(60, 'Maximum 60 characters.'),
      grain: z.enum(['month', 'week']),
      metrics: z
        .array(
          z.object({
            /** A standard metric; left out for one of the client's own. */
            metric: z.string().optional(),
            label: z.string().trim().max(60, 'Maximum 60 characters.'),
            unit: z.enum(OWN_UNITS),
            polarity: z.enum(['higher', 'lower', 'neutral']),
            kind: z.enum(['sum', 'level']),
          }),
        )
        .min(1, 'Choose at least one metric.')
        .max(20, 'Choose at most 20 metrics.'),
    }),
    reply: z.object({ feed: z.string() }),
  }),
  'GET /api/clients/:client/feeds/:feed/grid': route({
    about: 'Manual data by month or week of a year.',
    roles: EVERYONE,
    query: z.object({ year: z.coerce.number().int().min(2000).max(2100).optional() }),
    reply: z.object({
      grain: z.enum(['month', 'week']),
      year: z.int(),
      columns: z.array(column),
      rows: z.array(
        z.object({
          start: z.string(),
          label: z.string(),
          /** Whether it is over, so that it can be filled in. */
          over: z.boolean(),
          values: z.array(z.number().nullable()),
        }),
      ),
    }),
  }),
  'PUT /api/clients/:client/feeds/:feed/grid': route({
    about: 'Enter manual data; a cell without a number is cleared.',
    roles: MAKERS,
    body: z.object({
      cells: z
        .array(
          z.object({
            start: civilDate,
            metric: z.string(),
            value: boundedNumber.nullable(),
          }),
        )
        .max(2_000),
    }),
    reply: done,
  }),
};
