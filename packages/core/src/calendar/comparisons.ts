import {
  addDays,
  addMonths,
  type CivilDate,
  lengthOf,
  minDate,
  monthEnd,
  monthStart,
  partsOf,
  type Range,
  yearBack,
} from './civilDate.ts';
import {
  type CalendarRules,
  moveUnits,
  type PeriodSpec,
  resolvePeriod,
  type Unit,
  unitStart,
  wholeUnit,
  yearStartOf,
} from './periods.ts';

/** What a period is held against (SEMANTICS §3). `target` takes no dates: it resolves like `none`. */
export type ComparisonSpec =
  | { kind: 'none' }
  | { kind: 'previous' }
  | { kind: 'lastYear'; align?: 'date' | undefined }
  | { kind: 'first' }
  | { kind: 'fixed'; from: CivilDate; to: CivilDate }
  | { kind: 'typical'; k: number }
  | { kind: 'target' };

export type ComparedDates =
  | { kind: 'range'; range: Range }
  /** Ranges to take a typical level from, nearest first. */
  | { kind: 'ranges'; ranges: Range[] }
  /** `first-not-over`: the first period on record is not over before the period begins. */
  | { kind: 'nothing'; reason: 'none' | 'target' | 'first-not-over' };

/** A period with its shape settled: a to-date period as of its unit's first day is the whole unit before. */
type Shape =
  | { kind: 'whole'; unit: Unit; range: Range; yearStart: number }
  | { kind: 'toDate'; unit: Unit; range: Range; yearStart: number }
  | { kind: 'rolling'; range: Range }
  | { kind: 'fixed'; range: Range; months: number | null };

/** How many whole calendar months a range is made of, or null. */
function wholeMonths(range: Range): number | null {
  if (range.from !== monthStart(range.from) || range.to !== monthEnd(range.to)) return null;
  const a = partsOf(range.from);
  const b = partsOf(range.to);
  return (b.year - a.year) * 12 + b.month - a.month + 1;
}

function shapeOf(spec: PeriodSpec, asOf: CivilDate, rules: CalendarRules): Shape {
  const range = resolvePeriod(spec, asOf, rules);
  if (spec.kind === 'rolling') return { kind: 'rolling', range };
  if (spec.kind === 'fixed') return { kind: 'fixed', range, months: wholeMonths(range) };
  const yearStart = yearStartOf(spec, rules);
  const running = spec.toDate && unitStart(spec.unit, asOf, rules.weekStart, yearStart) !== asOf;
  return { kind: running ? 'toDate' : 'whole', unit: spec.unit, range, yearStart };
}

const yearsBack = (range: Range, years: number): Range => ({
  from: addMonths(range.from, -12 * years),
  to: addMonths(range.to, -12 * years),
});

/** The `step`-th range before, by `previous` applied `step` times. */
function preceding(shape: Shape, step: number): Range {
  const { range } = shape;
  const days = lengthOf(range);
  switch (shape.kind) {
    case 'whole':
      return wholeUnit(shape.unit, moveUnits(shape.unit, range.from, -step));
    case 'toDate': {
      if (shape.unit === 'year') return yearsBack(range, step);
      const unit = wholeUnit(shape.unit, moveUnits(shape.unit, range.from, -step));
      return { from: unit.from, to: minDate(addDays(unit.from, days - 1), unit.to) };
    }
    case 'rolling':
      return { from: addDays(range.from, -days * step), to: addDays(range.to, -days * step) };
    case 'fixed': {
      if (shape.months === null)
        return { from: addDays(range.from, -days * step), to: addDays(range.to, -days * step) };
      const from = addMonths(range.from, -shape.months * step);
      return { from, to: addDays(addMonths(from, shape.months), -1) };
    }
  }
}

function yearEarlier(shape: Shape, align: 'date' | undefined): Range {
  const { range } = shape;
  const byDate = { from: yearBack(range.from), to: yearBack(range.to) };
  const byWeeks = { from: addDays(range.from, -364), to: addDays(range.to, -364) };
  switch (shape.kind) {
    case 'rolling':
      return align === 'date' ? byDate : byWeeks;
    case 'fixed':
      return shape.months === null ? byDate : { from: byDate.from, to: monthEnd(byDate.to) };
    case 'whole':
    case 'toDate':
      if (shape.unit === 'day' || shape.unit === 'week') return align === 'date' ? byDate : byWeeks;
      return shape.kind === 'toDate' ? byDate : wholeUnit(shape.unit, byDate.from);
  }
}

function firstOnRecord(shape: Shape, clientStart: CivilDate, weekStart: number): Range {
  const days = lengthOf(shape.range);
  if (shape.kind === 'rolling' || shape.kind === 'fixed') {
    return { from: clientStart, to: addDays(clientStart, days - 1) };
  }
  const holding = unitStart(shape.unit, clientStart, weekStart, shape.yearStart);
  const unit = wholeUnit(shape.unit, holding === clientStart ? holding : moveUnits(shape.unit, holding, 1));
  return shape.kind === 'whole' ? unit : { from: unit.from, to: minDate(addDays(unit.from, days - 1), unit.to) };
}

/**
 * The dates that a period as of `asOf` is held against (SEMANTICS §3).
 * @param clientStart the client's first day, for `first`
 * @throws RangeError for a fixed comparison that runs backwards, or as {@link resolvePeriod}
 */
export function resolveComparison(
  comparison: ComparisonSpec,
  period: PeriodSpec,
  asOf: CivilDate,
  clientStart: CivilDate,
  rules: CalendarRules,
): ComparedDates {
  if (comparison.kind === 'none' || comparison.kind === 'target') return { kind: 'nothing', reason: comparison.kind };
  const shape = shapeOf(period, asOf, rules);
  switch (comparison.kind) {
    case 'previous':
      return { kind: 'range', range: preceding(shape, 1) };
    case 'lastYear':
      return { kind: 'range', range: yearEarlier(shape, comparison.align) };
    case 'fixed':
      if (comparison.from > comparison.to) throw new RangeError('comparison runs backwards');
      return { kind: 'range', range: { from: comparison.from, to: comparison.to } };
    case 'typical':
      return { kind: 'ranges', ranges: Array.from({ length: comparison.k }, (_, i) => preceding(shape, i + 1)) };
    case 'first': {
      const range = firstOnRecord(shape, clientStart, rules.weekStart);
      if (shape.range.from <= range.to) return { kind: 'nothing', reason: 'first-not-over' };
      return { kind: 'range', range };
    }
  }
}
