import { type MetricSettings, OWN_UNITS, type OwnMetric } from '@chronicon/core/figures';
import { z } from 'zod';
import { storedOnce } from './stored.ts';

const polarity = z.enum(['higher', 'lower', 'neutral']);

const ownMetric = z.object({
  key: z.string(),
  label: z.string(),
  unit: z.enum(OWN_UNITS),
  polarity,
  formula: z.string(),
  definition: z.string(),
  measure: z
    .union([
      z.object({ key: z.string(), kind: z.enum(['sum', 'level']) }),
      z.object({ key: z.string(), kind: z.literal('weighted'), weight: z.string() }),
    ])
    .optional(),
  shared: z.literal(true).optional(),
  written: z.string().optional(),
});

/** Metrics that the agency has for all its clients, as they are stored. */
export const ownMetricsIn = storedOnce<OwnMetric[]>(z.array(ownMetric), 'the agency’s metrics');

/** How a client's metrics differ from the standard ones, as it is stored. */
export const metricSettingsIn = storedOnce<MetricSettings>(
  z.object({
    changed: z.record(
      z.string(),
      z.object({
        label: z.string().optional(),
        polarity: polarity.optional(),
        reads: z.record(z.string(), z.string()).optional(),
      }),
    ),
    own: z.array(ownMetric),
    names: z.record(z.string(), z.record(z.string(), z.string())).optional(),
  }),
  'the metrics of a client',
);
