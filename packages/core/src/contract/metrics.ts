import { z } from 'zod';
import { isObjectName, OWN_NAME } from '../bounds/index.ts';
import { DIMENSION_KEYS, OWN_UNITS } from '../figures/index.ts';
import { boundedRange, civilDate } from '../report/specs.ts';
import { dayNote } from './figures.ts';
import { done, EVERYONE, MAKERS, route } from './route.ts';

const label = z.string().trim().min(1, 'Enter a name.').max(60, 'Maximum 60 characters.');
const unit = z.enum(OWN_UNITS);
const polarity = z.enum(['higher', 'lower', 'neutral']);

export const metricChange = z.object({
  /** Empty: the standard name, in each report's language. */
  label: z.string().trim().max(60, 'Maximum 60 characters.'),
  polarity,
  /** By the measure that the library reads: the one to read in its place. */
  reads: z.record(z.string(), z.string()),
});

const formula = z.string().trim().min(1, 'Enter a formula.').max(2_000, 'A formula has at most 2000 characters.');

export const ownMetricInput = z.object({
  key: z
    .string()
    .regex(/^[a-z][A-Za-z0-9]{1,39}$/, 'Start with a lowercase letter; letters and digits only, max 40.')
    .refine((k) => !isObjectName(k), 'Choose another name: this one is taken.'),
  label,
  unit,
  polarity,
  formula,
  definition: z.string().trim().max(300, 'Maximum 300 characters.'),
});
export type OwnMetricInput = z.infer<typeof ownMetricInput>;

export const noteInput = z
  .object({
    from: civilDate,
    to: civilDate,
    text: z.string().trim().min(1, 'Enter what happened.').max(160, 'Maximum 160 characters.'),
    inReports: z.boolean(),
  })
  .superRefine(boundedRange);

const dimension = z.string().refine((d) => (DIMENSION_KEYS as readonly string[]).includes(d), 'Dimension not found.');

export const metricRoutes = {
  'GET /api/clients/:client/names': route({
    about: 'A client’s names for values of its feeds, by dimension and the feed’s label.',
    roles: EVERYONE,
    reply: z.record(z.string(), z.record(z.string(), z.string())),
  }),
  'PUT /api/clients/:client/names': route({
    about: 'Rename a value in all reports of a client; an empty name restores the feed’s name.',
    roles: MAKERS,
    body: z.object({
      dimension,
      label: z.string().min(1).max(400),
      name: z.string().trim().max(OWN_NAME, `Maximum ${OWN_NAME} characters.`),
    }),
    reply: done,
  }),
  'PUT /api/clients/:client/metrics/:metric': route({
    about: 'Change a standard metric for a client: name, direction, or source measures.',
    roles: MAKERS,
    body: metricChange,
    reply: done,
  }),
  'DELETE /api/clients/:client/metrics/:metric': route({
    about: 'Reset a standard metric.',
    roles: MAKERS,
    reply: done,
  }),
  'POST /api/clients/:client/own-metrics/try': route({
    about: 'Check a formula: its error and position, or its result for the last complete month.',
    roles: MAKERS,
    body: z.object({ key: z.string().max(60), unit, formula: z.string().max(20_000) }),
    reply: z.object({
      fault: z.object({ at: z.int(), message: z.string() }).nullable(),
      /** The last complete month and the month before it; null while there is a fault. */
      results: z.array(z.object({ label: z.string(), text: z.string() })).nullable(),
      inputs: z.array(z.object({ label: z.string(), text: z.string() })),
    }),
  }),
  'POST /api/clients/:client/own-metrics': route({
    about: 'Add a calculated metric for a client, or, as an owner, for all clients.',
    roles: MAKERS,
    body: ownMetricInput.extend({ shared: z.boolean().default(false) }),
    reply: done,
  }),
  'PUT /api/clients/:client/own-metrics/:metric': route({
    about: 'Change a client’s own metric; one that reads a measure has no formula.',
    roles: MAKERS,
    body: ownMetricInput.omit({ key: true }).extend({ formula: z.string().trim().max(2_000) }),
    reply: done,
  }),
  'DELETE /api/clients/:client/own-metrics/:metric': route({
    about: 'Remove a client’s own metric that is not in use.',
    roles: MAKERS,
    reply: done,
  }),
  'GET /api/clients/:client/notes': route({
    about: 'Notes on a client’s days, newest first.',
    roles: EVERYONE,
    reply: z.array(dayNote),
  }),
  'POST /api/clients/:client/notes': route({
    about: 'Add a note on days.',
    roles: MAKERS,
    body: noteInput,
    reply: dayNote,
  }),
  'PUT /api/clients/:client/notes/:note': route({
    about: 'Change a note.',
    roles: MAKERS,
    body: noteInput,
    reply: dayNote,
  }),
  'DELETE /api/clients/:client/notes/:note': route({ about: 'Remove a note.', roles: MAKERS, reply: done }),
};
