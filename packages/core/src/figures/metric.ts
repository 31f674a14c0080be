/** Units that a client's own figures may have. Percent values are fractions: 0.05 is 5 %. Durations are seconds. */
export const OWN_UNITS = ['count', 'money', 'percent', 'duration', 'decimal'] as const;
export type OwnUnit = (typeof OWN_UNITS)[number];

/** What a figure is counted in: a position is a place in a ranking, 1 the top, and its change is told in places. */
export const METRIC_UNITS = [...OWN_UNITS, 'position'] as const;
export type MetricUnit = (typeof METRIC_UNITS)[number];

/** Which direction is good news. */
export type Polarity = 'higher' | 'lower' | 'neutral';

/** How a metric is made from the measures of a dataset (SEMANTICS §4). */
export type Aggregation =
  | { kind: 'sum'; measure: string }
  | { kind: 'min'; measure: string }
  | { kind: 'max'; measure: string }
  | { kind: 'unique'; measure: string }
  /** The last known value; `net`: how much it grew over the range. */
  | { kind: 'level'; measure: string; net?: true | undefined }
  | { kind: 'ratio'; num: string; den: string }
  | { kind: 'weighted'; measure: string; weight: string }
  | { kind: 'derived'; formula: string };

/** The part of the trade that a metric belongs to; `own` are those that a client added. */
export const FIELDS = [
  'web',
  'shop',
  'leads',
  'ads',
  'social',
  'email',
  'calls',
  'listings',
  'upkeep',
  'search',
  'own',
] as const;
export type Field = (typeof FIELDS)[number];

export interface Metric {
  key: string;
  field: Field;
  unit: MetricUnit;
  polarity: Polarity;
  aggregation: Aggregation;
  /** What it counts, in plain words (the interface is English). */
  definition: string;
  /** Its formula as somebody wrote it, where numbers stand in the places of what is assumed. */
  written?: string | undefined;
  /** A name that the client gave it; otherwise it is named in the report's language. */
  label?: string | undefined;
}

/** Finds the aggregation of another metric, for formulas. */
export type MetricLookup = (key: string) => Aggregation;
