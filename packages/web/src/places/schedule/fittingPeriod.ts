import type { PeriodSpec, Rule } from '@chronicon/core/calendar';

const last = (unit: Extract<PeriodSpec, { kind: 'unit' }>['unit']): PeriodSpec => ({ kind: 'unit', unit, offset: -1 });

/**
 * The period that fits a rhythm: what has ended since the run before. Null where no unit of the calendar is as long.
 * @example fittingPeriod({ freq: 'weekly', every: 1, weekdays: [1] }) // the week before
 */
export function fittingPeriod(rule: Rule): PeriodSpec | null {
  switch (rule.freq) {
    case 'daily':
    case 'workdays':
      return last('day');
    case 'weekly':
      return rule.every === 1 ? last('week') : { kind: 'rolling', days: 7 * rule.every };
    case 'monthly':
      return rule.every === 1
        ? last('month')
        : rule.every === 3
          ? last('quarter')
          : rule.every === 12
            ? last('year')
            : null;
    case 'quarterly':
      return last('quarter');
    case 'yearly':
      return last('year');
    case 'once':
      return null;
  }
}

const same = (a: PeriodSpec | null, b: PeriodSpec | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What a change of the rhythm changes with it: the period, where it was the fitting one of the rhythm before. */
export function withRhythm(
  before: { rule: Rule; period: PeriodSpec },
  rule: Rule,
): { rule: Rule; period?: PeriodSpec } {
  const fits = same(before.period, fittingPeriod(before.rule));
  const period = fittingPeriod(rule);
  return fits && period !== null ? { rule, period } : { rule };
}

/** The period that a rhythm would rather have; null where it has it, or none is better. */
export function proposedPeriod({ rule, period }: { rule: Rule; period: PeriodSpec }): PeriodSpec | null {
  const fitting = fittingPeriod(rule);
  // Somebody chose dates of their own, or a part of a unit, on purpose.
  if (fitting === null || period.kind === 'fixed' || (period.kind === 'unit' && period.toDate)) return null;
  return same(fitting, period) ? null : fitting;
}
