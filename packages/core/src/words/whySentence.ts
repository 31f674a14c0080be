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
 * of it or more in its own direction, then the whole of what moved against it, if that is as much. What reads as nothing is not
 * named.
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

  function nameOf(part: string): string {
    return part.trim() || format.words.unnamed;
  }

  function partsOf(found: Drivers): string[] {
    const along = found.items.filter((i) => i.by * abs > 0 && Math.abs(i.by) >= WORTH_SAYING * Math.abs(abs));
    const named = along.slice(0, MOST_NAMED).filter((i) => /[1-9]/.test(signed(i.by)));
    const pieces = named.map((i) => {
      const label = nameOf(i.label);
      if (found.kind === 'ratio') {
        const own = Math.abs(i.rate ?? 0) >= Math.abs(i.mix ?? 0);
        return fill(own ? why.ownRate : why.weight, { label, by: signed(i.by) });
      }
      const share = i.by / abs;
      if (share > 1) return fill(why.alone, { label, by: signed(i.by) });
      return fill(up ? why.ofRise : why.ofFall, { label, share: format.wholePercent(share) });
    });
    const against = againstIt(found);
    return against === null ? pieces : [...pieces, against];
  }

  /** The whole of what moved against the change; null where that is little, or reads as nothing. */
  function againstIt(found: Drivers): string | null {
    const parts = found.items.filter((i) => i.by * abs < 0);
    const by = parts.reduce((n, i) => n + i.by, 0);
    if (Math.abs(by) < WORTH_SAYING * Math.abs(abs)) return null;
    const [only] = parts;
    if (found.kind === 'ratio') {
      if (!/[1-9]/.test(signed(by))) return null;
      if (parts.length > 1) return fill(why.others, { count: parts.length, by: signed(by) });
      const own = Math.abs(only!.rate ?? 0) >= Math.abs(only!.mix ?? 0);
      return fill(own ? why.ownRate : why.weight, { label: nameOf(only!.label), by: signed(by) });
    }
    const amount = format.figure(Math.abs(by), metric.unit);
    if (!/[1-9]/.test(amount)) return null;
    if (parts.length === 1) return fill(up ? why.partFell : why.partRose, { label: nameOf(only!.label), by: amount });
    return fill(up ? why.othersFell : why.othersRose, { count: parts.length, by: amount });
  }
}
