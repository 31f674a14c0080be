import { byCodePoint } from './order.ts';
import { type NotAvailable, na } from './value.ts';

export interface Part {
  label: string;
  value: number;
}

export interface Shares {
  slices: { label: string; value: number; share: number }[];
  /** Positive parts below the limit, together. */
  other: { value: number; share: number } | null;
}

/**
 * Each part over the sum of the positive parts, largest first; zero and negative parts have no slice, and slices
 * below `limit` (0-1) join Other (SEMANTICS §7). Without a positive part: `zero-denominator`.
 */
export function sharesOf(parts: readonly Part[], limit: number): Shares | NotAvailable {
  const positive = parts.filter((p) => p.value > 0);
  const whole = positive.reduce((n, p) => n + p.value, 0);
  if (whole <= 0) return na('zero-denominator');
  const slices = positive
    .map((p) => ({ ...p, share: p.value / whole }))
    .sort((a, b) => b.value - a.value || byCodePoint(a.label, b.label));
  // A share that is the limit but for rounding stays.
  const kept = slices.filter((s) => s.share >= limit - 1e-12);
  const small = slices.filter((s) => !kept.includes(s)).reduce((n, s) => n + s.value, 0);
  return { slices: kept, other: kept.length < slices.length ? { value: small, share: small / whole } : null };
}
