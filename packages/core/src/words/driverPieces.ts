import type { Drivers, Metric } from '../figures/index.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './registry.ts';

/** A part is named when it brought at least this much of the change, either way. */
const WORTH_SAYING = 0.1;
const MOST_NAMED = 2;

/**
 * What brought a change of `abs`, piece by piece: at most two parts that brought a tenth of it or more in its own direction,
 * then the whole of what moved against it, if that is as much. What reads as nothing is not named; of a single part nothing is.
 */
export function driverPieces(
  found: Drivers,
  abs: number,
  metric: Metric,
  dimension: string,
  format: Formatter,
): string[] {
  const { why } = format.words;
  // Of one part alone nothing is told: a filter on that very dimension leaves no other.
  if (found.items.length < 2) return [];
  const up = abs > 0;
  const signed = (n: number) =>
    metric.unit === 'percent'
      ? `${format.signedDecimal(n * 100)} ${format.pointsOf(n * 100)}`
      : format.difference(n, metric.unit);
  const nameOf = (part: string) => format.valueName(dimension, part);
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
  const against = againstIt();
  return against === null ? pieces : [...pieces, against];

  /** The whole of what moved against the change; null where that is little, or reads as nothing. */
  function againstIt(): string | null {
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
