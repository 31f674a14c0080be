import {
  changeOf,
  type Drivers,
  isKnown,
  isTold,
  type Metric,
  type NotAvailable,
  type Value,
} from '../figures/index.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './registry.ts';

/** A part is named when it brought at least this much of the change, either way. */
const WORTH_SAYING = 0.1;
const MOST_NAMED = 2;

export interface WhyInput {
  metric: Metric;
  /** Its name in the sentence’s language. */
  label: string;
  current: Value;
  compared: Value;
  /** The change by parts; null when nobody asked for them. */
  drivers: Drivers | NotAvailable | null;
}

/**
 * Why a figure changed, as one sentence built from the figures alone. The rules: what cannot be compared, or is partly
 * known on either side, says so;
 * what is steady (SEMANTICS §6) says that and no more; else the change, then at most two parts that brought a tenth
 * of it or more in its own direction, then the largest one against it if it is as large as that.
 */
export function whySentence({ metric, label, current, compared, drivers }: WhyInput, format: Formatter): string {
  const { why, reasons } = format.words;
  if (!isKnown(current) || !isKnown(compared)) {
    const lack = [current, compared].find((v) => !isKnown(v)) as NotAvailable;
    return fill(why.unknown, { metric: label, reason: reasons[lack.na] });
  }
  const percent = metric.unit === 'percent';
  const inPoints = (n: number) => `${format.decimal(n * 100)} ${format.pointsOf(n * 100)}`;
  const signed = (n: number) =>
    percent ? `${format.signedDecimal(n * 100)} ${format.pointsOf(n * 100)}` : format.difference(n, metric.unit);
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
  const tail = drivers && !('na' in drivers) ? partsOf(drivers) : [];
  return tail.length > 0 ? `${head}; ${tail.join(', ')}` : head;

  function partsOf(found: Drivers): string[] {
    const along = found.items.filter((i) => i.by * abs > 0 && Math.abs(i.by) >= WORTH_SAYING * Math.abs(abs));
    const against = found.items.find((i) => i.by * abs < 0 && Math.abs(i.by) >= WORTH_SAYING * Math.abs(abs));
    const pieces = along.slice(0, MOST_NAMED).map((i) => {
      if (found.kind === 'ratio') {
        const own = Math.abs(i.rate ?? 0) >= Math.abs(i.mix ?? 0);
        return fill(own ? why.ownRate : why.weight, { label: i.label, by: signed(i.by) });
      }
      const share = i.by / abs;
      if (share > 1) return fill(why.alone, { label: i.label, by: signed(i.by) });
      return fill(up ? why.ofRise : why.ofFall, { label: i.label, share: format.wholePercent(share) });
    });
    if (against) {
      pieces.push(
        found.kind === 'ratio'
          ? fill(Math.abs(against.rate ?? 0) >= Math.abs(against.mix ?? 0) ? why.ownRate : why.weight, {
              label: against.label,
              by: signed(against.by),
            })
          : fill(up ? why.partFell : why.partRose, { label: against.label }),
      );
    }
    return pieces;
  }
}
