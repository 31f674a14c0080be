import { AHEAD_YEARS, LAST_DATE, MOST_CANDIDATES } from '../bounds/index.ts';
import {
  addDays,
  addMonths,
  type CivilDate,
  daysInMonth,
  makeDate,
  maxDate,
  minDate,
  partsOf,
  toDayNumber,
  type Weekday,
  weekdayOf,
} from './civilDate.ts';
import { datesOf, type Exceptions } from './exceptions.ts';
import { unitStart } from './periods.ts';
import {
  isWorkingDay,
  kthWorkingDay,
  moveToWorkingDay,
  type WorkingCalendar,
  type WorkingDayRule,
} from './workingDays.ts';
import { type Instant, instantOf } from './zones.ts';

/** A day within a month. `day` 29-31 in a shorter month is its last day; `workday` < 0 counts from the end. */
export type On =
  | { day: number }
  | { last: true }
  | { nth: 1 | 2 | 3 | 4 | 'last'; weekday: Weekday }
  | { workday: number };

/** When a schedule recurs (SEMANTICS §10). */
export type Rule =
  | { freq: 'daily' }
  | { freq: 'workdays' }
  | { freq: 'weekly'; every: number; weekdays: Weekday[] }
  | { freq: 'monthly'; every: number; on: On }
  | { freq: 'quarterly'; month: 1 | 2 | 3; on: On }
  | { freq: 'yearly'; month: number; on: On }
  | { freq: 'once'; date: CivilDate };

export interface Recurrence {
  rule: Rule;
  /** First and last unmoved date; both belong. */
  firstDate: CivilDate;
  lastDate: CivilDate | null;
  /** Runs that are left out, moved, or cover other dates. */
  exceptions: Exceptions;
  weekStart: Weekday;
  calendar: WorkingCalendar;
  workingDayRule: WorkingDayRule;
  /** Wall-clock time, `HH:MM`, in `zone`. */
  time: string;
  zone: string;
}

export interface Occurrence {
  /** The unmoved date: the run's as-of date and part of its edition's identity. */
  nominal: CivilDate;
  /** The date it runs on, after the working-day rule. */
  runs: CivilDate;
  at: Instant;
}

function dayInMonth(on: On, year: number, month: number, calendar: WorkingCalendar): CivilDate | null {
  const days = daysInMonth(year, month);
  if ('day' in on) return makeDate(year, month, Math.min(on.day, days));
  if ('last' in on) return makeDate(year, month, days);
  if ('workday' in on) return kthWorkingDay(year, month, on.workday, calendar);
  if (on.nth === 'last') {
    const last = makeDate(year, month, days);
    return addDays(last, -((weekdayOf(last) - on.weekday + 7) % 7));
  }
  const first = makeDate(year, month, 1);
  return addDays(first, ((on.weekday - weekdayOf(first) + 7) % 7) + 7 * (on.nth - 1));
}

/** Month numbers (year * 12 + month - 1) at which a month-based rule is asked, from the month of `start` on. */
function monthSteps(
  rule: Rule,
  firstDate: CivilDate,
  start: CivilDate,
): { first: number; step: number; on: On } | null {
  const index = (date: CivilDate) => partsOf(date).year * 12 + partsOf(date).month - 1;
  const align = (anchor: number, step: number, on: On) => {
    const ahead = Math.max(0, Math.ceil((index(start) - anchor) / step));
    return { first: anchor + ahead * step, step, on };
  };
  const january = partsOf(firstDate).year * 12;
  switch (rule.freq) {
    case 'monthly':
      return align(index(firstDate), rule.every, rule.on);
    case 'quarterly':
      return align(january + rule.month - 1, 3, rule.on);
    case 'yearly':
      return align(january + rule.month - 1, 12, rule.on);
    default:
      return null;
  }
}

/** Dates that a rule gives from `start` to `end`, both included; at most {@link MOST_CANDIDATES} are tried. */
function* unmovedDates(r: Recurrence, start: CivilDate, end: CivilDate): Generator<CivilDate> {
  const { rule } = r;
  if (rule.freq === 'once') {
    yield rule.date;
    return;
  }
  const months = monthSteps(rule, r.firstDate, start);
  if (months) {
    const { year, month } = partsOf(end);
    const last = year * 12 + month - 1;
    for (let m = months.first, tried = 0; m <= last && tried < MOST_CANDIDATES; m += months.step, tried++) {
      const date = dayInMonth(months.on, Math.floor(m / 12), (m % 12) + 1, r.calendar);
      if (date) yield date;
    }
    return;
  }
  const week0 = toDayNumber(unitStart('week', r.firstDate, r.weekStart, 1));
  for (let day = start, tried = 0; day <= end && tried < MOST_CANDIDATES; day = addDays(day, 1), tried++) {
    const hit =
      rule.freq === 'daily' ||
      (rule.freq === 'workdays' && isWorkingDay(day, r.calendar)) ||
      (rule.freq === 'weekly' &&
        rule.weekdays.includes(weekdayOf(day)) &&
        Math.floor((toDayNumber(day) - week0) / 7) % rule.every === 0);
    if (hit) yield day;
  }
}

function occurrenceAt(r: Recurrence, nominal: CivilDate): Occurrence {
  const moved = r.exceptions[nominal]?.moved;
  const runs = moved ? moved.date : moveToWorkingDay(nominal, r.workingDayRule, r.calendar);
  return { nominal, runs, at: instantOf(runs, moved ? moved.time : r.time, r.zone) };
}

/**
 * The occurrences of a schedule whose unmoved date is on or after `from`, in the order of unmoved dates. Bounds and
 * skips are held against unmoved dates (SEMANTICS §10). It looks no further than {@link AHEAD_YEARS} years from `from`,
 * and never beyond {@link LAST_DATE}: whatever the rule is, it ends.
 */
export function* occurrences(r: Recurrence, from: CivilDate): Generator<Occurrence> {
  const start = maxDate(from, r.firstDate);
  const end = minDate(minDate(addMonths(from, AHEAD_YEARS * 12), r.lastDate ?? LAST_DATE), LAST_DATE);
  if (start > end) return;
  for (const nominal of unmovedDates(r, start, end)) {
    if (nominal > end) return;
    if (nominal >= start && !r.exceptions[nominal]?.skipped) yield occurrenceAt(r, nominal);
  }
}

/** The occurrence of an unmoved date; null when the rule has none on it, or it is left out. */
export function occurrenceOn(r: Recurrence, nominal: CivilDate): Occurrence | null {
  const first = occurrences({ ...r, lastDate: minDate(nominal, r.lastDate ?? nominal) }, nominal).next();
  return first.done ? null : first.value;
}

/** The first `count` of {@link occurrences}. */
export function nextOccurrences(r: Recurrence, from: CivilDate, count: number): Occurrence[] {
  const out: Occurrence[] = [];
  if (count < 1) return out;
  for (const o of occurrences(r, from)) {
    out.push(o);
    if (out.length === count) break;
  }
  return out;
}

/** A rule for working days moves a run up to two weeks from its unmoved date. */
const SLACK = 15;
const dayOf = (ms: number): CivilDate => new Date(ms).toISOString().slice(0, 10);

/**
 * The occurrences of a schedule after an instant, soonest first (of two at one instant, that of the earlier unmoved
 * date): all up to `until`, inclusive, and at least `least` if there are so many. Runs that a person moved are among
 * them wherever they were moved to.
 */
export function occurrencesAhead(
  r: Recurrence,
  { after, until, least = 0 }: { after: Instant; until: Instant; least?: number },
): Occurrence[] {
  const lo = Date.parse(after);
  const hi = Date.parse(until);
  const lastUnmoved = addDays(dayOf(hi), SLACK);
  const found: Occurrence[] = datesOf(r.exceptions, 'moved').flatMap((nominal) => {
    const o = occurrenceOn(r, nominal);
    return o && Date.parse(o.at) > lo ? o : [];
  });
  const strays = found.length;
  for (const o of occurrences(r, addDays(dayOf(lo), -SLACK))) {
    // Those that were moved may lie anywhere: enough of the others have to be seen.
    if (o.nominal > lastUnmoved && found.length >= least + strays) break;
    if (r.exceptions[o.nominal]?.moved === undefined && Date.parse(o.at) > lo) found.push(o);
  }
  found.sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || (a.nominal < b.nominal ? -1 : 1));
  const within = found.filter((o) => Date.parse(o.at) <= hi).length;
  return found.slice(0, Math.max(within, least));
}
