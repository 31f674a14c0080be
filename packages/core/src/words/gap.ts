import type { MetricUnit } from '../figures/metric.ts';
import type { Numbers } from './numbers.ts';

const MORE = [0, 1, 2] as const;

/** Decimals beyond the usual with which a figure and what it should be read unlike, unless they are the same (SEMANTICS §9). */
export function gapDecimals(value: number, aim: number, unit: MetricUnit, n: Pick<Numbers, 'figure'>): 0 | 1 | 2 {
  if (value === aim) return 0;
  return MORE.find((m) => n.figure(value, unit, m) !== n.figure(aim, unit, m)) ?? 0;
}

/**
 * How far a figure is from what it should be, as both read: of two that read alike nothing. Large counts read compactly, and their
 * difference is its own.
 */
export function printedGap(value: number, aim: number, unit: MetricUnit, more: number): number {
  const digits = digitsOf(unit, Math.max(Math.abs(value), Math.abs(aim)), more);
  if (digits === null) return value - aim;
  return Number((Number(value.toFixed(digits)) - Number(aim.toFixed(digits))).toFixed(digits));
}

/** Decimals of a figure of that size; null where it reads compactly, or its currency decides. */
function digitsOf(unit: MetricUnit, size: number, more: number): number | null {
  switch (unit) {
    case 'count':
      return size >= 999_999.5 ? null : more;
    case 'money':
      return size >= 1_000 ? more : null;
    case 'percent':
      return 3 + more;
    case 'duration':
      return more;
    case 'decimal':
    case 'position':
      return 1 + more;
  }
}
