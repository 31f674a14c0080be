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
import { fill } from './registry.ts';

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
 * known on either side, says so;
 * what is steady (SEMANTICS §6) says that and no more; else the change, then at most two parts that brought a tenth
 * of it or more in its own direction, then the whole of what moved against it, if that is as much. What reads as nothing is not
 * named.
 */
export function whySentence(
  { metric, label, current, compared, comparedDates, drivers, dimension = '' }: WhyInput,
  format: Formatter,
): string {
  const { why, reasons } = format.words;
  if (!isKnown(current) || !isKnown(compared)) {
    const lack = [current, compared].find((v) => !isKnown(v)) as NotAvailable;
    const reason = reasons[lack.na];
    const isCompared = isKnown(current) && comparedDates !== undefined;
    return fill(why.unknown, {
      metric: label,
      reason: isCompared ? fill(format.words.noteDay, { dates: comparedDates, text: reason }) : reason,
    });
  }
  const percent = metric.unit === 'percent';
  const inPoints = (n: number) => `${format.decimal(n * 100)} ${format.pointsOf(n * 100)}`;
  const change = changeOf(current, compared, metric.unit, metric.polarity);
  if (!isTold(change)) return fill(why.unknown, { metric: label, reason: reasons.partial });
  const abs = current.value - compared.value;
  if (change.verdict === 'steady' || abs === 0) return fill(why.level, { metric: label });
  if (!percent && compared.value === 0) {
    return fill(why.began, { metric: label, value: format.figure(current.value, metric.unit) });
  }
  if (!percent && current.value === 0) {
    return fill(why.ended, { metric: label, value: format.figure(compared.value, metric.unit) });
  }
  const up = abs > 0;
  const by = percent
    ? inPoints(Math.abs(abs))
    : `${format.percent(Math.abs(abs / compared.value))} (${format.difference(abs, metric.unit)})`;
  const head = fill(up ? why.rose : why.fell, { metric: label, by });
  const tail = drivers && !('na' in drivers) ? driverPieces(drivers, abs, metric, dimension, format) : [];
  return tail.length > 0 ? `${head}; ${tail.join(', ')}` : head;
}
