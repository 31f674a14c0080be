import {
  addDays,
  addMonths,
  type CivilDate,
  fromDayNumber,
  makeDate,
  monthStart,
  partsOf,
  type Range,
  toDayNumber,
  weekdayOf,
} from './civilDate.ts';

export type Unit = 'day' | 'week' | 'month' | 'quarter' | 'year';

/** Which days a figure covers, relative to an as-of date (SEMANTICS §2). */
export type PeriodSpec =
  | { kind: 'unit'; unit: Unit; offset?: number | undefined; toDate?: true | undefined; fiscal?: true | undefined }
  | { kind: 'rolling'; days: number }
  | { kind: 'fixed'; from: CivilDate; to: CivilDate };

/** What of a client's set-up bears on dates. */
export interface CalendarRules {
  /** First day of the week, 1 = Monday … 7 = Sunday. */
  weekStart: number;
  /** Month in which the fiscal year starts, 1-12. */
  fiscalStart: number;
}

/** First day of the calendar unit that holds `date`. `yearStart` is the month in which quarters and years begin. */
export function unitStart(unit: Unit, date: CivilDate, weekStart: number, yearStart: number): CivilDate {
  switch (unit) {
    case 'day':
      return date;
    case 'week':
      return fromDayNumber(toDayNumber(date) - ((weekdayOf(date) - weekStart + 7) % 7));
    case 'month':
      return monthStart(date);
    case 'quarter':
    case 'year': {
      const { year, month } = partsOf(date);
      const into = (month - yearStart + 12) % (unit === 'quarter' ? 3 : 12);
      return addMonths(makeDate(year, month, 1), -into);
    }
  }
}

/** Moves the first day of a unit by `by` such units. */
export function moveUnits(unit: Unit, start: CivilDate, by: number): CivilDate {
  switch (unit) {
    case 'day':
      return addDays(start, by);
    case 'week':
      return addDays(start, 7 * by);
    case 'month':
      return addMonths(start, by);
    case 'quarter':
      return addMonths(start, 3 * by);
    case 'year':
      return addMonths(start, 12 * by);
  }
}

/** The whole unit that begins at `start`. */
export function wholeUnit(unit: Unit, start: CivilDate): Range {
  return { from: start, to: addDays(moveUnits(unit, start, 1), -1) };
}

export const yearStartOf = (spec: { fiscal?: true | undefined }, rules: CalendarRules): number =>
  spec.fiscal ? rules.fiscalStart : 1;

/**
 * The days that `spec` covers as of `asOf` (SEMANTICS §2).
 * @throws RangeError when a fixed period runs backwards, a rolling one has no days, or an offset lies ahead.
 */
export function resolvePeriod(spec: PeriodSpec, asOf: CivilDate, rules: CalendarRules): Range {
  switch (spec.kind) {
    case 'fixed':
      if (spec.from > spec.to) throw new RangeError(`period runs backwards: ${spec.from} to ${spec.to}`);
      return { from: spec.from, to: spec.to };
    case 'rolling':
      if (!(spec.days >= 1)) throw new RangeError('a rolling period has at least one day');
      return { from: addDays(asOf, -spec.days), to: addDays(asOf, -1) };
    case 'unit': {
      const offset = spec.offset ?? 0;
      if (offset > 0) throw new RangeError('a period cannot lie ahead');
      const start = unitStart(spec.unit, asOf, rules.weekStart, yearStartOf(spec, rules));
      if (!spec.toDate) return wholeUnit(spec.unit, moveUnits(spec.unit, start, offset));
      if (start === asOf) return wholeUnit(spec.unit, moveUnits(spec.unit, start, -1));
      return { from: start, to: addDays(asOf, -1) };
    }
  }
}
