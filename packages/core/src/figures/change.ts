import type { MetricUnit, Polarity } from './metric.ts';
import { isKnown, type NotAvailable, na, type Value } from './value.ts';

export type Verdict = 'better' | 'worse' | 'steady' | 'changed' | 'none';

export interface Change {
  abs: number | NotAvailable;
  /** Relative change as a fraction of |compared|. */
  rel: number | NotAvailable;
  /** Compared with nothing: say "new" rather than a rate. */
  new?: true;
  /** `abs` in percentage points, for percent units only. */
  points?: number;
  /** The difference of two positions as they read, for positions only: above zero is further down. */
  places?: number;
  verdict: Verdict;
}

const STEADY_REL = 0.005;
const STEADY_POINTS = 0.0005;

/** Whether a change may be printed or told: where either side is partial, or not known, nothing is made of it (§4). */
export const isTold = (change: Change): change is Change & { abs: number } =>
  typeof change.abs === 'number' && change.verdict !== 'none';

const toTenth = (value: number): number => Number(value.toFixed(1));

/** Positions are read with one decimal, and their difference is that of what is read (SEMANTICS §9). */
const printedPlaces = (current: number, compared: number): number => toTenth(toTenth(current) - toTenth(compared));

/** The change from `compared` to `current`, on unrounded values, and what to think of it (SEMANTICS §6). */
export function changeOf(current: Value, compared: Value, unit: MetricUnit, polarity: Polarity): Change {
  const missing = [current, compared].find((v) => !isKnown(v));
  if (!isKnown(current) || !isKnown(compared)) {
    const reason = missing as NotAvailable;
    return { abs: reason, rel: reason, verdict: 'none' };
  }
  const abs = current.value - compared.value;
  const fromZero = compared.value === 0;
  const rel = fromZero ? na('zero-denominator') : abs / Math.abs(compared.value);
  const percent = unit === 'percent';
  const steady = percent
    ? Math.abs(abs) < STEADY_POINTS
    : typeof rel === 'number'
      ? Math.abs(rel) < STEADY_REL
      : abs === 0;
  const good = polarity === 'higher' ? abs > 0 : abs < 0;
  const partial = current.partial || compared.partial;
  return {
    abs,
    rel,
    ...(fromZero && current.value > 0 && unit !== 'position' ? { new: true as const } : {}),
    ...(percent ? { points: abs * 100 } : {}),
    ...(unit === 'position' ? { places: printedPlaces(current.value, compared.value) } : {}),
    verdict: partial ? 'none' : steady ? 'steady' : polarity === 'neutral' ? 'changed' : good ? 'better' : 'worse',
  };
}

/** Whether one verdict says the opposite of another: better and worse, or a rise and a fall where neither is good. */
export function isTurned(a: Change, b: Change): boolean {
  if (!isTold(a) || !isTold(b) || a.verdict === 'steady' || b.verdict === 'steady') return false;
  return Math.sign(a.abs) !== Math.sign(b.abs);
}
