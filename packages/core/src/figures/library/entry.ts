import type { Aggregation, Field, Metric, MetricUnit, Polarity } from '../metric.ts';

export const sum = (measure: string): Aggregation => ({ kind: 'sum', measure });
export const ratio = (num: string, den: string): Aggregation => ({ kind: 'ratio', num, den });
export const weighted = (measure: string, weight: string): Aggregation => ({ kind: 'weighted', measure, weight });
export const unique = (measure: string): Aggregation => ({ kind: 'unique', measure });
export const level = (measure: string): Aggregation => ({ kind: 'level', measure });
export const growth = (measure: string): Aggregation => ({ kind: 'level', measure, net: true });
export const derived = (formula: string): Aggregation => ({ kind: 'derived', formula });

export type Entry = [key: string, unit: MetricUnit, polarity: Polarity, aggregation: Aggregation, definition: string];

/** The metrics of one part of the trade, in the order in which they are offered. */
export const entries = (field: Field, list: readonly Entry[]): readonly Metric[] =>
  list.map(([key, unit, polarity, aggregation, definition]) => ({
    key,
    field,
    unit,
    polarity,
    aggregation,
    definition,
  }));
