import type { Aggregation, Metric, MetricUnit, Polarity } from './metric.ts';

const metric = (key: string, unit: MetricUnit, polarity: Polarity, aggregation: Aggregation): Metric => ({
  key,
  unit,
  polarity,
  aggregation,
});
const sum = (measure: string): Aggregation => ({ kind: 'sum', measure });
const ratio = (num: string, den: string): Aggregation => ({ kind: 'ratio', num, den });

/** The standard metrics of web analytics, in the order in which they are offered. */
export const METRICS: readonly Metric[] = [
  metric('visits', 'count', 'higher', sum('visits')),
  metric('pageViews', 'count', 'higher', sum('pageViews')),
  metric('pagesPerVisit', 'decimal', 'higher', ratio('pageViews', 'visits')),
  metric('bounceRate', 'percent', 'lower', ratio('bounces', 'visits')),
  metric('engagedTime', 'duration', 'higher', ratio('engagedSeconds', 'visits')),
  metric('orders', 'count', 'higher', sum('orders')),
  metric('revenue', 'money', 'higher', sum('revenue')),
  metric('orderRate', 'percent', 'higher', ratio('orders', 'visits')),
  metric('averageOrder', 'money', 'higher', ratio('revenue', 'orders')),
  metric('leads', 'count', 'higher', sum('leads')),
  metric('leadRate', 'percent', 'higher', ratio('leads', 'visits')),
];

const byKey = new Map(METRICS.map((m) => [m.key, m]));

export const METRIC_KEYS: readonly string[] = METRICS.map((m) => m.key);

/** @throws RangeError for a key that no metric has */
export function metricOf(key: string): Metric {
  const found = byKey.get(key);
  if (!found) throw new RangeError(`unknown metric: ${key}`);
  return found;
}
