import { addDays, type CivilDate, fromDayNumber, monthStart, type Range, toDayNumber } from '@chronicon/core/calendar';

/**
 * The ranges to fetch, newest first and none over a month's end: days from `firstDay` through `through` that are not
 * `covered`, and the last `restates` complete days again.
 */
export function slicesToFetch(
  firstDay: CivilDate,
  through: CivilDate,
  covered: ReadonlySet<number>,
  restates: number,
): Range[] {
  const again = toDayNumber(through) - restates;
  const wanted: number[] = [];
  for (let day = toDayNumber(firstDay); day <= toDayNumber(through); day++) {
    if (!covered.has(day) || day > again) wanted.push(day);
  }
  const slices: Range[] = [];
  for (const day of wanted.map(fromDayNumber)) {
    const last = slices.at(-1);
    if (last && addDays(last.to, 1) === day && monthStart(day) === monthStart(last.from)) last.to = day;
    else slices.push({ from: day, to: day });
  }
  return slices.reverse();
}
