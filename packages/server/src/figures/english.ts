import type { Range } from '@chronicon/core/calendar';
import { hasDrivers, type Metric, type MetricBook, targetAdds } from '@chronicon/core/figures';
import { type Formatter, formatterOf } from '@chronicon/core/words';
import type { StoredClient } from '../store/clients.ts';

/** The interface is English; money is the client's. */
export const englishFor = (client: Pick<StoredClient, 'currency'>): Formatter => formatterOf('en-GB', client.currency);

export const namedRange = (range: Range, english: Formatter) => ({
  from: range.from,
  to: range.to,
  label: english.shortRange(range),
  dates: english.dates(range),
});

/** What every screen says of a metric. */
export const metricHead = (metric: Metric, book: MetricBook, english: Formatter) => ({
  key: metric.key,
  label: book.labelOf(metric.key, english.words.metrics),
  unit: metric.unit,
  polarity: metric.polarity,
  definition: metric.definition,
  divides: hasDrivers(metric.aggregation, book.lookup),
  adds: targetAdds(metric.aggregation, book.lookup),
});
