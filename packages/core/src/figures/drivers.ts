import { byCodePoint } from './order.ts';
import type { Part } from './share.ts';
import { type NotAvailable, na } from './value.ts';

export interface RatioPart {
  label: string;
  num: number;
  den: number;
}

export interface SumDrivers {
  total: number;
  items: { label: string; contribution: number; share: number | NotAvailable }[];
}

export interface RatioDrivers {
  current: number;
  compared: number;
  /** Numerators that have no denominator of their own. */
  residual: number;
  items: { label: string; rate: number; mix: number }[];
}

const byLabel = <P extends { label: string }>(side: readonly P[]): Map<string, P> =>
  new Map(side.map((p) => [p.label, p]));

const labelsOf = (...sides: readonly Map<string, unknown>[]): string[] =>
  [...new Set(sides.flatMap((s) => [...s.keys()]))].sort(byCodePoint);

/** What each part brought to the change of a sum; the contributions add up to it (SEMANTICS §7). */
export function driversOfSum(current: readonly Part[], compared: readonly Part[]): SumDrivers {
  const [now, before] = [byLabel(current), byLabel(compared)];
  const sum = (side: readonly Part[]) => side.reduce((n, p) => n + p.value, 0);
  const total = sum(current) - sum(compared);
  return {
    total,
    items: labelsOf(now, before).map((label) => {
      const contribution = (now.get(label)?.value ?? 0) - (before.get(label)?.value ?? 0);
      return { label, contribution, share: total === 0 ? na('zero-denominator') : contribution / total };
    }),
  };
}

/**
 * What each part brought to the change of a ratio, by its own rate and by the mix of parts. Rates and mixes add up to
 * the change with the residual (SEMANTICS §7). A side without denominators: `zero-denominator`.
 */
export function driversOfRatio(
  current: readonly RatioPart[],
  compared: readonly RatioPart[],
): RatioDrivers | NotAvailable {
  const sum = (side: readonly RatioPart[], key: 'num' | 'den') => side.reduce((n, p) => n + p[key], 0);
  const [den1, den0] = [sum(current, 'den'), sum(compared, 'den')];
  if (den1 === 0 || den0 === 0) return na('zero-denominator');
  const [r1, r0] = [sum(current, 'num') / den1, sum(compared, 'num') / den0];
  const middle = (r1 + r0) / 2;
  const [now, before] = [byLabel(current), byLabel(compared)];
  const nothing = { num: 0, den: 0 };
  const orphans = (side: readonly RatioPart[], den: number) =>
    side.reduce((n, p) => n + (p.den === 0 ? p.num : 0), 0) / den;
  return {
    current: r1,
    compared: r0,
    residual: orphans(current, den1) - orphans(compared, den0),
    items: labelsOf(now, before).map((label) => {
      const [a, b] = [now.get(label) ?? nothing, before.get(label) ?? nothing];
      if (a.den === 0 && b.den === 0) return { label, rate: 0, mix: 0 };
      // A part that is missing on one side takes the other side's rate: it is all mix.
      const rate1 = a.den === 0 ? b.num / b.den : a.num / a.den;
      const rate0 = b.den === 0 ? a.num / a.den : b.num / b.den;
      const [w1, w0] = [a.den / den1, b.den / den0];
      return { label, rate: ((rate1 - rate0) * (w1 + w0)) / 2, mix: (w1 - w0) * ((rate1 + rate0) / 2 - middle) };
    }),
  };
}
