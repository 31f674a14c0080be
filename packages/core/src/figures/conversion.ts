import type { CivilDate, Range } from '../calendar/index.ts';
import { measuresOf } from './aggregate.ts';
import type { MetricBook } from './book.ts';

/** A rate by which money of another currency was converted as it came in, as a person gave it (SEMANTICS §13). */
export interface Conversion {
  /** The measures that it was applied to. */
  measures: string[];
  /** As the file names it: a code or a sign. */
  currency: string;
  /** The client's (ISO 4217). */
  into: string;
  /** How much of the client's currency one unit came to. */
  rate: number;
  /** First and last day on which it was applied, both inclusive. */
  from: CivilDate;
  to: CivilDate;
}

/** The conversions behind a metric's figure on any of these dates. */
export function conversionsFor(
  conversions: readonly Conversion[],
  metric: string,
  ranges: readonly (Range | null)[],
  book: MetricBook,
): Conversion[] {
  if (conversions.length === 0) return [];
  const measures = measuresOf(book.lookup(metric), book.lookup);
  return conversions.filter(
    (c) => c.measures.some((m) => measures.includes(m)) && ranges.some((r) => r && c.from <= r.to && c.to >= r.from),
  );
}
