import { addDays, type CivilDate, maxDate, type Range } from './civilDate.ts';

/** Ranges in order, those that touch or overlap as one. Both ends belong; the given ones stay as they are. */
export function joinRanges(ranges: readonly Range[]): Range[] {
  const out: Range[] = [];
  for (const { from, to } of [...ranges].sort((a, b) => (a.from < b.from ? -1 : a.from > b.from ? 1 : 0))) {
    const last = out.at(-1);
    if (last && from <= addDays(last.to, 1)) last.to = maxDate(last.to, to);
    else out.push({ from, to });
  }
  return out;
}

/** Single days, in any order, as ranges. */
export const rangesOfDays = (days: readonly CivilDate[]): Range[] =>
  joinRanges(days.map((day) => ({ from: day, to: day })));
