import type { Drivers, Metric } from '../figures/index.ts';
import { dimensionName } from './dimensionTitles.ts';
import type { Formatter } from './formatter.ts';
import { inText } from './inText.ts';
import { fill } from './said.ts';

/** A part is named when it brought at least this much of the change, either way. */
const WORTH_SAYING = 0.1;
const MOST_NAMED = 2;
/** A share that reads as 100 %. */
const ALL = 0.995;

/**
 * What brought a change of `abs`, in one phrase: at most two parts that brought a tenth of it or more in its own direction,
 * then the whole of what moved against it, if that is as much. What reads as nothing is not named; of a single part nothing is.
 * Empty for nothing.
 */
export function driverPieces(
  found: Drivers,
  abs: number,
  metric: Metric,
  dimension: string,
  format: Formatter,
): string {
  const { why, unnamedPart } = format.words;
  // Of one part alone nothing is told: a filter on that very dimension leaves no other.
  if (found.items.length < 2) return '';
  const up = abs > 0;
  const signed = (n: number) =>
    metric.unit === 'percent'
      ? format.points(n * 100, format.signedDecimal(n * 100), 'cell')
      : format.difference(n, metric.unit);
  const nameOf = (part: string) =>
    part.trim() === ''
      ? fill(unnamedPart, { dimension: inText(dimensionName(dimension, format), format.words, format.locale) })
      : format.valueName(dimension, part);
  const along = found.items.filter((i) => i.by * abs > 0 && Math.abs(i.by) >= WORTH_SAYING * Math.abs(abs));
  const named = along.slice(0, MOST_NAMED).filter((i) => /[1-9]/.test(signed(i.by)));
  const against = againstIt();
  const first = alongIt();
  if (first === '' || against === '') return first || against;
  return fill(why.both, { along: first, against });

  function alongIt(): string {
    const [one] = named;
    if (!one) return '';
    const share = one.by / abs;
    if (found.kind !== 'ratio' && named.length === 1 && share >= ALL && share <= 1)
      return fill(why.allOf, { label: nameOf(one.label) });
    // Where one part is more than the whole change, shares say little: amounts are told of all of them.
    const asAmounts = named.some((i) => i.by / abs > 1);
    let isTold = false;
    const list = named.map((i) => {
      const label = nameOf(i.label);
      if (found.kind === 'ratio') return byRate(i, label);
      const share = i.by / abs;
      if (asAmounts) return fill(why.amount, { label, amount: signed(i.by) });
      const text = isTold ? why.ofSame : up ? why.ofRise : why.ofFall;
      isTold = true;
      return fill(text, { label, share: format.wholePercent(share) });
    });
    return fill(why.mainly, { list: format.list(list) });
  }

  function byRate(item: Drivers['items'][number], label: string): string {
    const isOwn = Math.abs(item.rate ?? 0) >= Math.abs(item.mix ?? 0);
    return fill(isOwn ? why.ownRate : why.weight, { label, amount: signed(item.by) });
  }

  /** The whole of what moved against the change; empty where that is little, or reads as nothing. */
  function againstIt(): string {
    const parts = found.items.filter((i) => i.by * abs < 0);
    const by = parts.reduce((n, i) => n + i.by, 0);
    const amount = signed(by);
    if (Math.abs(by) < WORTH_SAYING * Math.abs(abs) || !/[1-9]/.test(amount)) return '';
    if (parts.length > 1) return format.count(why.othersAgainst, parts.length, { amount });
    const [only] = parts;
    const label = nameOf(only!.label);
    const part = found.kind === 'ratio' ? byRate(only!, label) : fill(why.amount, { label, amount });
    return fill(why.against, { part });
  }
}
