import { type CivilDate, fromDayNumber, lengthOf, type Range, toDayNumber } from '../calendar/index.ts';

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

/** For each day of the range, in order, 1 when it was delivered. */
export function coveredFlags(coverage: Coverage, range: Range): Uint8Array {
  const first = toDayNumber(range.from);
  const flags = new Uint8Array(lengthOf(range));
  for (const [a, b] of coverage) flags.fill(1, Math.max(0, a - first), Math.max(0, b - first + 1));
  return flags;
}

/** How many days of the range were delivered. */
export function coveredDays(coverage: Coverage, range: Range): number {
  const lo = toDayNumber(range.from);
  const hi = toDayNumber(range.to);
  let n = 0;
  for (const [a, b] of coverage) n += Math.max(0, Math.min(b, hi) - Math.max(a, lo) + 1);
  return n;
}

/** The days of the range on or after `firstDay` that were not delivered, as ranges. */
export function missingDays(coverage: Coverage, range: Range, firstDay: CivilDate): Range[] {
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
