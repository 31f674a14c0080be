import { type CivilDate, fromDayNumber, lengthOf, type Range, toDayNumber } from '../calendar/index.ts';
import type { CountedRange } from './countedRange.ts';

/** Delivered days as inclusive day-number pairs: sorted, disjoint, not touching. */
export type Coverage = readonly (readonly [number, number])[];

/** Joins day numbers, in any order, into a coverage. */
export function coverageOf(days: Iterable<number>): Coverage {
  const out: [number, number][] = [];
  for (const day of [...days].sort((a, b) => a - b)) {
    const last = out.at(-1);
    if (last && day <= last[1] + 1) last[1] = Math.max(last[1], day);
    else out.push([day, day]);
  }
  return out;
}

/** For each day of the range, in order, 1 when it was delivered and counts. */
export function coveredFlags(coverage: Coverage, range: CountedRange): Uint8Array {
  const first = toDayNumber(range.from);
  const flags = new Uint8Array(lengthOf(range));
  for (const [a, b] of coverage) flags.fill(1, Math.max(0, a - first), Math.max(0, b - first + 1));
  for (const { day } of range.without ?? []) flags[toDayNumber(day) - first] = 0;
  return flags;
}

const isCovered = (coverage: Coverage, day: number): boolean => coverage.some(([a, b]) => a <= day && day <= b);

/** How many of the days of the range that count were delivered. */
export function coveredDays(coverage: Coverage, range: CountedRange): number {
  const lo = toDayNumber(range.from);
  const hi = toDayNumber(range.to);
  let n = 0;
  for (const [a, b] of coverage) n += Math.max(0, Math.min(b, hi) - Math.max(a, lo) + 1);
  for (const { day } of range.without ?? []) if (isCovered(coverage, toDayNumber(day))) n--;
  return n;
}

/** The days of a range that need not be asked for: those that were delivered, and those that do not count. */
function withDays(coverage: Coverage, range: Range, more: ReadonlySet<number>): number[] {
  const first = toDayNumber(range.from);
  const flags = coveredFlags(coverage, range);
  return Array.from(flags, (flag, i) => (flag === 1 || more.has(first + i) ? first + i : -1)).filter((d) => d >= 0);
}

/** The days of the range on or after `firstDay` that count and were not delivered, as ranges. */
export function missingDays(coverage: Coverage, range: CountedRange, firstDay: CivilDate): Range[] {
  const excluded = new Set((range.without ?? []).map((w) => toDayNumber(w.day)));
  if (excluded.size > 0)
    return missingDays(coverageOf(withDays(coverage, range, excluded)), { from: range.from, to: range.to }, firstDay);
  const missing: Range[] = [];
  let day = Math.max(toDayNumber(range.from), toDayNumber(firstDay));
  const end = toDayNumber(range.to);
  for (const [a, b] of coverage) {
    if (b < day) continue;
    if (a > end) break;
    if (a > day) missing.push({ from: fromDayNumber(day), to: fromDayNumber(a - 1) });
    day = b + 1;
  }
  if (day <= end) missing.push({ from: fromDayNumber(day), to: fromDayNumber(end) });
  return missing;
}
