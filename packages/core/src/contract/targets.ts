import { z } from 'zod';
import { isObjectName } from '../bounds/index.ts';
import { DIMENSION_KEYS, METRIC_UNITS, type Value } from '../figures/index.ts';
import { boundedNumber, civilDate, civilMonth } from '../report/specs.ts';
import { done, EVERYONE, MAKERS, range, route } from './route.ts';

const common = {
  metric: z
    .string()
    .regex(/^[A-Za-z_]\w{0,60}$/, 'Metric not found.')
    .refine((k) => !isObjectName(k), 'Metric not found.'),
  value: boundedNumber,
  /** Narrowed to what has these values, by dimension; nothing for the whole. */
  filter: z
    .record(
      z.string().refine((d) => (DIMENSION_KEYS as readonly string[]).includes(d), 'Dimension not found.'),
      z.array(z.string().max(200)).min(1, 'Choose a value.').max(50, 'Choose at most 50 values.'),
    )
    .refine((f) => Object.keys(f).length <= 5, 'Filter by at most five dimensions.')
    .default({}),
};

export const targetInput = z.discriminatedUnion('span', [
  z.object({ ...common, span: z.enum(['month', 'quarter', 'year']), from: civilMonth, repeats: z.boolean() }),
  z.object({ ...common, span: z.literal('date'), on: civilDate }),
]);
export type TargetInput = z.infer<typeof targetInput>;

const value = z.custom<Value>();

const target = z.object({
  id: z.string(),
  input: targetInput,
  metric: z.object({
    key: z.string(),
    label: z.string(),
    unit: z.enum(METRIC_UNITS),
    polarity: z.enum(['higher', 'lower', 'neutral']),
  }),
  /** The span that today lies in, or the next or last one; of a date, from today to it. */
  span: range.extend({ label: z.string() }),
  phase: z.enum(['ahead', 'running', 'over']),
  /** What it is narrowed to, in words. */
  of: z.array(z.string()),
  /** What the span has brought so far, or in all. */
  soFar: value,
  /** Where it will end at the present pace; null where that is no question. */
  projection: value.nullable(),
  /** Days until a level gets there at its present growth; `never`; null where that is no question. */
  daysToReach: z.union([z.int(), z.literal('never')]).nullable(),
  outlook: z.enum(['reached', 'on-course', 'short', 'missed', 'open']),
});
export type TargetProgress = z.infer<typeof target>;

export const targetRoutes = {
  'GET /api/clients/:client/targets': route({
    about: 'A client’s targets with progress and forecast.',
    roles: EVERYONE,
    reply: z.array(target),
  }),
  'POST /api/clients/:client/targets': route({ about: 'Set a target.', roles: MAKERS, body: targetInput, reply: done }),
  'PUT /api/clients/:client/targets/:target': route({
    about: 'Change a target.',
    roles: MAKERS,
    body: targetInput,
    reply: done,
  }),
  'DELETE /api/clients/:client/targets/:target': route({ about: 'Remove a target.', roles: MAKERS, reply: done }),
};
