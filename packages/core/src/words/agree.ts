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
  /** A change in points as it is printed, where that is another than the one of the unrounded rates. */
  points?: number;
}

const PLAIN: Agreement = { more: 0, isTold: true };
const MORE = [0, 1, 2] as const;
const isZero = (text: string): boolean => !/[1-9]/.test(text);

/**
 * Figures that stand together agree (SEMANTICS §9): where both read alike but their change does not read as zero, both
 * get one more decimal, then two. A change in points is the difference of the rates as they read: where it is not, all three get
 * one more decimal, then two, and then it is made from the rates as printed. What is new is no zero, and what is steady not new.
 */
export function agree(
  current: Value,
  compared: Value | null,
  change: Change | null,
  unit: MetricUnit,
  n: Numbers,
): Agreement {
  if (!change || !isTold(change) || !compared || !isKnown(current) || !isKnown(compared)) return PLAIN;
  if (change.new) {
    if (change.verdict === 'steady') return { more: 0, isTold: false };
    const more = MORE.find((m) => !isZero(n.figure(current.value, unit, m)));
    return more === undefined ? { more: 0, isTold: false } : { more, isTold: true };
  }
  const { points, rel, places } = change;
  if (places !== undefined) return { more: 0, isTold: places !== 0 };
  if (points !== undefined) return agreeInPoints(current.value, compared.value, points);
  const told = typeof rel === 'number' ? n.signedPercent(rel) : '';
  const alike = (more: number) => n.figure(current.value, unit, more) === n.figure(compared.value, unit, more);
  if (isZero(told)) return PLAIN;
  const more = MORE.find((m) => !alike(m));
  return more === undefined ? { more: 0, isTold: false } : { more, isTold: true };
}

/** A fraction's percentage as it reads with so many decimals beyond the one. */
const printedPercent = (value: number, more: number): number => Number(value.toFixed(3 + more)) * 100;

/** The difference of two rates in points as they read, free of what adding leaves behind. */
export const printedPoints = (current: number, compared: number, more: number): number =>
  Number((printedPercent(current, more) - printedPercent(compared, more)).toFixed(1 + more));

function agreeInPoints(current: number, compared: number, points: number): Agreement {
  const more = MORE.find((m) => printedPoints(current, compared, m) === Number(points.toFixed(1 + m)));
  if (more !== undefined) return { more, isTold: true };
  const left = printedPoints(current, compared, 2);
  return left === 0 ? { more: 0, isTold: false } : { more: 2, isTold: true, points: left };
}
