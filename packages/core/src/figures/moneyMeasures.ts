import { type MetricSettings, metricBook } from './book.ts';

/** The measures that a client's metrics take as money. */
export function moneyMeasures(settings: MetricSettings): Set<string> {
  const money = metricBook(settings).metrics.filter((m) => m.unit === 'money');
  return new Set(
    money.flatMap(({ aggregation: a }) => (a.kind === 'ratio' ? [a.num] : 'measure' in a ? [a.measure] : [])),
  );
}
