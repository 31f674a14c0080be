import { z } from 'zod';
import { isObjectName, MOST_ALL_ROWS, MOST_EXCLUDED_DAYS, MOST_EXCLUSIONS } from '../bounds/index.ts';
import { FIELDS, FILTER_HOWS, METRIC_UNITS, type Rhythm, type Value } from '../figures/index.ts';
import { boundedRange, civilDate } from '../report/specs.ts';
import { excludedDays } from './excludedDays.ts';
import { parseComparison, parseFilter, parsePeriod } from './figuresText.ts';
import { EVERYONE, range, route } from './route.ts';

/** Text that is read by one of the functions of figuresText. */
const readBy = <T>(parse: (text: string) => T | null, message: string) =>
  z.string().transform((text, context) => {
    const found = parse(text);
    if (found !== null) return found;
    context.addIssue({ code: 'custom', message });
    return z.NEVER;
  });

const key = z
  .string()
  .regex(/^[A-Za-z_]\w{0,60}$/, 'Metric not found.')
  .refine((k) => !isObjectName(k), 'Metric not found.');
const keys = z
  .string()
  .transform((t) => t.split(',').filter((k) => k !== ''))
  .pipe(z.array(key).min(1, 'Choose at least one metric.').max(6, 'Choose at most six metrics.'));
const filter = readBy(parseFilter, 'Invalid filter.').default([]);
const dimension = key.optional();

export const STEPS = ['auto', 'day', 'week', 'month', 'quarter'] as const;

/** What the Figures place asks; the same text stands in its address. */
export const figuresQuery = z.object({
  metrics: keys,
  by: dimension,
  filter,
  period: readBy(parsePeriod, 'Invalid period.'),
  compare: readBy(parseComparison, 'Invalid comparison.').default({ kind: 'none' }),
  step: z.enum(STEPS).default('auto'),
  n: z.coerce.number().int().min(1).max(MOST_ALL_ROWS).default(15),
  order: z.enum(['current', 'change']).default('current'),
});
export type FiguresQuery = z.output<typeof figuresQuery>;

const value = z.custom<Value>();
const pair = z.object({ current: value, compared: value.nullable() });
const named = range.extend({ label: z.string(), dates: z.string() });
const unit = z.enum(METRIC_UNITS);
const polarity = z.enum(['higher', 'lower', 'neutral']);

const metricHead = z.object({
  key: z.string(),
  label: z.string(),
  unit,
  polarity,
  definition: z.string(),
  /** Its change can be divided among parts. */
  divides: z.boolean(),
  /** Whether the values of its parts add up to it. */
  adds: z.boolean(),
});

export const dayNote = range.extend({ id: z.string(), text: z.string(), inReports: z.boolean() });

const suspect = z.object({
  metric: z.string(),
  day: z.string(),
  kind: z.enum(['zero', 'jump', 'missing']),
  /** Whether it lies in the period, or in what that is compared with. */
  side: z.enum(['current', 'compared']),
  /** What came and what is usual, with the day. */
  words: z.string(),
  /** The same without the day, for where it is named already. */
  came: z.string(),
});

/** Odd days behind a total, explained or not. */
const oddFigure = z.object({
  /** Which, what came and what is usual. */
  days: z.string(),
  /** The change without them on both sides; null where they cannot be left out. */
  without: z.string().nullable(),
  /** Whether that turns the verdict round. */
  turned: z.boolean(),
});

/** What a metric leaves out of its dates. */
const leftOut = z.object({
  period: z.array(z.string()),
  compared: z.array(z.string()),
  /** `without 19 Oct`, both sides named. */
  words: z.string(),
});

const figures = z.object({
  period: named,
  /** The range that is compared; null for a usual level, a target or nothing. */
  compared: named.nullable(),
  /** What it is held against, in words; null for nothing. */
  against: z.string().nullable(),
  metrics: z.array(metricHead),
  totals: z.array(pair),
  /** In time, when nothing is broken down. */
  series: z
    .object({
      step: z.enum(['day', 'week', 'month', 'quarter']),
      times: z.array(range),
      /** What each step is held against; null where the compared range does not reach. */
      comparedTimes: z.array(range.nullable()).nullable(),
      /** By step: whether both have as many days, or are whole units; else no change is told. */
      comparable: z.array(z.boolean()),
      /** Steps of the compared range beyond the period's last: nothing stands against them. */
      beyond: z.array(range),
      /** By metric, in the order of `metrics`. */
      lines: z.array(
        z.object({
          current: z.array(value),
          compared: z.array(value.nullable()).nullable(),
          beyond: z.array(value),
          target: z.array(z.number().nullable()).nullable(),
          /** By step: which days it, or what it is held against, leaves out, in words; empty for none. */
          without: z.array(z.string()),
        }),
      ),
    })
    .nullable(),
  breakdown: z
    .object({
      dimension: z.object({ key: z.string(), label: z.string() }),
      rows: z.array(
        z.object({
          /** As the feed brings it: what is filtered by. */
          label: z.string(),
          /** What the client calls it; left out where it has no name of its own for it. */
          name: z.string().optional(),
          status: z.enum(['both', 'new', 'gone']),
          cells: z.array(pair),
        }),
      ),
      other: z.array(pair).nullable(),
      /** Why there is none, when there is none. */
      lack: z.string().nullable(),
    })
    .nullable(),
  suspects: z.array(suspect),
  /** By metric, in the order of `metrics`; null where nothing is odd. */
  odd: z.array(oddFigure.nullable()),
  /** By metric, in the order of `metrics`; null where no day is left out. */
  excluded: z.array(leftOut.nullable()),
  /** By metric: at which rates its money was converted; null for none. */
  converted: z.array(z.string().nullable()),
  /** The exclusions that concern the dates shown. */
  exclusions: z.array(excludedDays),
  notes: z.array(dayNote),
  /** Sentences on what the figures lack. */
  lacks: z.array(z.string()),
});
export type Figures = z.infer<typeof figures>;

/** One figure: a metric over settled dates and a filter. */
export const figureQuery = z
  .object({
    metric: key,
    from: civilDate,
    to: civilDate,
    filter,
    /** Days of the range that are left out, with commas between them. */
    without: z
      .string()
      .default('')
      .transform((t) => t.split(',').filter((d) => d !== ''))
      .pipe(z.array(civilDate).max(MOST_EXCLUSIONS * MOST_EXCLUDED_DAYS)),
  })
  .superRefine(boundedRange);
export type FigureQuery = z.output<typeof figureQuery>;

const explanation = z.object({
  metric: metricHead,
  value,
  range: named,
  /** `revenue ÷ orders` in names; each name is one of the inputs. */
  formula: z.string(),
  inputs: z.array(z.object({ label: z.string(), unit, value })),
  filter: z.array(
    z.object({ dimension: z.string(), label: z.string(), values: z.array(z.string()), how: z.enum(FILTER_HOWS) }),
  ),
  sources: z.array(
    z.object({
      dataset: z.string(),
      feed: z.string(),
      days: z.int(),
      delivered: z.int(),
      missing: z.array(range),
      firstDay: z.string(),
      /** Days that came together, newest fetch first. */
      fetches: z.array(range.extend({ at: z.string() })),
      rows: z.int(),
    }),
  ),
});
export type Explanation = z.infer<typeof explanation>;

const driver = z.object({
  label: z.string(),
  /** What the client calls it; left out where it has no name of its own for it. */
  name: z.string().optional(),
  by: z.number(),
  rate: z.number().optional(),
  mix: z.number().optional(),
});
const why = z.object({
  metric: metricHead,
  period: named,
  compared: named.nullable(),
  current: value,
  before: value.nullable(),
  /** In the client's report language, without its full stop. */
  sentence: z.string(),
  language: z.string(),
  drivers: z
    .object({
      kind: z.enum(['sum', 'ratio']),
      change: z.number(),
      residual: z.number(),
      items: z.array(driver),
    })
    .nullable(),
  /** Why there are no drivers, when there are none. */
  lack: z.string().nullable(),
});
export type Why = z.infer<typeof why>;

export const metricOffer = metricHead.extend({
  field: z.enum(FIELDS),
  fieldLabel: z.string(),
  /** Its name without the client's own. */
  standardLabel: z.string(),
  formula: z.string().nullable(),
  /** The agency's, for all clients that have its parts: an owner's to change. */
  shared: z.boolean(),
  changed: z.boolean(),
  /** The client's datasets have all its parts. */
  available: z.boolean(),
  /** What it can be broken down by here. */
  dimensions: z.array(z.string()),
  /** Measures that it reads, by the library's name, and which of the client's it reads in their place. */
  reads: z.array(z.object({ measure: z.string(), from: z.string() })),
});
export type MetricOffer = z.infer<typeof metricOffer>;

export const figuresRoutes = {
  'GET /api/clients/:client/metrics': route({
    about: 'The metrics of a client, and their dimensions.',
    roles: EVERYONE,
    reply: z.object({
      metrics: z.array(metricOffer),
      dimensions: z.array(z.object({ key: z.string(), label: z.string() })),
      /** Measures that the client's feeds deliver. */
      measures: z.array(z.string()),
    }),
  }),
  'GET /api/clients/:client/labels': route({
    about: 'The values of a dimension in a client’s data, by text.',
    roles: EVERYONE,
    query: z.object({ dimension: key, text: z.string().max(200).default('') }),
    reply: z.object({ labels: z.array(z.string()), more: z.boolean() }),
  }),
  'GET /api/clients/:client/figures': route({
    about: 'Figures with their comparison: over time, or broken down by a dimension.',
    roles: EVERYONE,
    query: figuresQuery,
    reply: figures,
  }),
  'GET /api/clients/:client/figures/rhythm': route({
    about: 'One metric by weekday and hour of the day.',
    roles: EVERYONE,
    query: figureQuery,
    reply: z.object({
      metric: metricHead,
      /** Names of the weekdays, the client’s first day first. */
      weekdays: z.array(z.string()),
      rhythm: z.custom<Rhythm>().nullable(),
      lack: z.string().nullable(),
    }),
  }),
  'GET /api/clients/:client/figures/explain': route({
    about: 'How one figure is calculated.',
    roles: EVERYONE,
    query: figureQuery,
    reply: explanation,
  }),
  'GET /api/clients/:client/figures/rows': route({
    about: 'The rows behind one figure, in pages.',
    roles: EVERYONE,
    query: figureQuery.safeExtend({
      source: z.coerce.number().int().min(0).default(0),
      page: z.coerce.number().int().min(1).default(1),
    }),
    reply: z.object({
      columns: z.array(z.string()),
      rows: z.array(z.array(z.union([z.string(), z.number()]))),
      total: z.int(),
      pageSize: z.int(),
    }),
  }),
  'GET /api/clients/:client/figures/why': route({
    about: 'Why one figure changed, part by part, with a sentence for the report.',
    roles: EVERYONE,
    query: figuresQuery.pick({ period: true, compare: true, filter: true }).extend({ metric: key, by: key }),
    reply: why,
  }),
};
