/** What a figure is counted in. Percent values are fractions: 0.05 is 5 %. Durations are seconds. */
export type MetricUnit = 'count' | 'money' | 'percent' | 'duration' | 'decimal';

/** Which direction is good news. */
export type Polarity = 'higher' | 'lower' | 'neutral';

/** How a metric is made from the measures of a dataset (SEMANTICS §4). */
export type Aggregation =
  | { kind: 'sum'; measure: string }
  | { kind: 'min'; measure: string }
  | { kind: 'max'; measure: string }
  | { kind: 'ratio'; num: string; den: string };

export interface Metric {
  key: string;
  unit: MetricUnit;
  polarity: Polarity;
  aggregation: Aggregation;
}

/** Every measure a metric reads. */
export function measuresOf(aggregation: Aggregation): string[] {
  return aggregation.kind === 'ratio' ? [aggregation.num, aggregation.den] : [aggregation.measure];
}
