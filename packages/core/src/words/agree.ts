import { type Change, isTold } from '../figures/change.ts';
import type { MetricUnit } from '../figures/metric.ts';
import { isKnown, type Value } from '../figures/value.ts';
import type { Numbers } from './numbers.ts';

/** How a figure, what it is held against and their change are written so that none contradicts another. */
export interface Agreement {
  /** Decimals beyond the usual, for both figures, and for a change in points. */
  more: 0 | 1 | 2;
  /** False where the figures read alike whatever is tried: the word for steady stands instead of a number. */
  isTold: boolean;
}

const PLAIN: Agreement = { more: 0, isTold: true };
const MORE = [0, 1, 2] as const;
const isZero = (text: string): boolean => !/[1-9]/.test(text);

/**
 * Figures that stand together agree (SEMANTICS §9): where both read alike but their change does not read as zero, both
 * get one more decimal, then two. Rates that read unlike while their change in points reads as zero do, too, with it.
 */
export function agree(
  current: Value,
  compared: Value | null,
  change: Change | null,
  unit: MetricUnit,
  n: Numbers,
): Agreement {
  if (!change || !isTold(change) || change.new || !compared || !isKnown(current) || !isKnown(compared)) return PLAIN;
  const { points, rel } = change;
  const told = (more: number) =>
    points !== undefined ? n.signedDecimal(points, more) : typeof rel === 'number' ? n.signedPercent(rel) : '';
  const alike = (more: number) => n.figure(current.value, unit, more) === n.figure(compared.value, unit, more);
  if (isZero(told(0))) {
    if (points === undefined || alike(0)) return PLAIN;
    return { more: MORE.find((m) => m > 0 && !isZero(told(m))) ?? 2, isTold: true };
  }
  const more = MORE.find((m) => !alike(m));
  return more === undefined ? { more: 0, isTold: false } : { more, isTold: true };
}
