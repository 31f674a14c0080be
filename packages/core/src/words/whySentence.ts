import {
  changeOf,
  type Drivers,
  isKnown,
  isTold,
  type Metric,
  type NotAvailable,
  type Value,
} from '../figures/index.ts';
import { driverPieces } from './driverPieces.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './said.ts';
import { endedOrBegan, movedBy } from './told.ts';

export interface WhyInput {
  metric: Metric;
  /** Its name in the sentence’s language. */
  label: string;
  current: Value;
  compared: Value;
  /** The change by parts; null when nobody asked for them. */
  drivers: Drivers | NotAvailable | null;
  /** The dates that it is compared with, as they are named; what is lacking there is said of them. */
  comparedDates?: string | undefined;
  /** What the parts are values of: their names are told in the sentence's language. */
  dimension?: string | undefined;
}

/**
 * Why a figure changed, as one sentence built from the figures alone. The rules: what cannot be compared, or is partly
 * known on either side, says so; what is steady (SEMANTICS §6) says that and no more; else the change, then what brought it
 * ({@link driverPieces}).
 */
export function whySentence(
  { metric, label, current, compared, comparedDates, drivers, dimension = '' }: WhyInput,
  format: Formatter,
): string {
  const { why, reasons, labelled, aside } = format.words;
  if (!isKnown(current) || !isKnown(compared)) {
    const lack = [current, compared].find((v) => !isKnown(v)) as NotAvailable;
    const reason = reasons[lack.na];
    const isCompared = isKnown(current) && comparedDates !== undefined;
    return fill(why.unknown, {
      metric: label,
      reason: isCompared ? fill(labelled, { label: comparedDates, text: reason }) : reason,
    });
  }
  const change = changeOf(current, compared, metric.unit, metric.polarity);
  if (!isTold(change)) return fill(why.unknown, { metric: label, reason: reasons.partial });
  const { abs } = change;
  if (change.verdict === 'steady' || abs === 0) return fill(why.level, { metric: label });
  const figure = (value: number) => format.figure(value, metric.unit);
  const ends = endedOrBegan(current, compared, metric);
  if (ends) {
    const value = figure(ends === 'began' ? current.value : compared.value);
    return fill(why[ends], { metric: label, value, zero: figure(0) });
  }
  const parts = drivers && !('na' in drivers) ? driverPieces(drivers, abs, metric, dimension, format) : '';
  return parts === '' ? head() : fill(why.because, { head: head(), parts });

  function head(): string {
    if (change.places !== undefined)
      return fill(change.places > 0 ? why.worse : why.better, {
        metric: label,
        places: format.places(change.places),
        from: figure((compared as { value: number }).value),
        to: figure((current as { value: number }).value),
      });
    const said = fill(abs > 0 ? why.rose : why.fell, {
      metric: label,
      by: movedBy({ ...change, abs }, metric, format),
    });
    return metric.unit === 'percent' ? said : fill(aside, { text: said, aside: format.difference(abs, metric.unit) });
  }
}
