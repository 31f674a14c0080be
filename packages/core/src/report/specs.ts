import { z } from 'zod';
import {
  EVERY_MONTHS,
  EVERY_WEEKS,
  FIRST_DATE,
  LAST_DATE,
  MOST_EXCEPTIONS,
  MOST_NUMBER,
  MOST_WORKDAY,
} from '../bounds/index.ts';
import {
  type ComparisonSpec,
  dateFault,
  type Exception,
  type Exceptions,
  isZone,
  type PeriodSpec,
  type Range,
  type Rule,
  rangeFault,
} from '../calendar/index.ts';

/** Schemas of the calendar's plain objects, for documents, schedules and the API. */
export const civilDate = z.string().superRefine((text, context) => {
  const message = dateFault(text);
  if (message !== null) context.addIssue({ code: 'custom', message });
});
/** A month as `YYYY-MM`. */
export const civilMonth = z
  .string()
  .regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'Enter a month as YYYY-MM.')
  .refine((m) => m >= FIRST_DATE.slice(0, 7) && m <= LAST_DATE.slice(0, 7), {
    message: `Enter a month between ${FIRST_DATE.slice(0, 4)} and ${LAST_DATE.slice(0, 4)}.`,
  });
/** A number that a person types in. */
export const boundedNumber = z
  .number({ error: 'Enter a number.' })
  .min(-MOST_NUMBER, 'This number is too small.')
  .max(MOST_NUMBER, 'This number is too large.');
export const zoneName = z.string().refine(isZone, 'Unknown time zone.');
export const wallTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Enter a time as HH:MM.');

/** Refuses a range that runs backwards or is too long, at its last day. */
export const boundedRange = (range: Range, context: z.RefinementCtx): void => {
  if (dateFault(range.from) !== null || dateFault(range.to) !== null) return;
  const message = rangeFault(range);
  if (message !== null) context.addIssue({ code: 'custom', message, path: ['to'] });
};

const unit = z.enum(['day', 'week', 'month', 'quarter', 'year']);
const on = z.union([
  z.strictObject({ day: z.int().min(1).max(31) }),
  z.strictObject({ last: z.literal(true) }),
  z.strictObject({
    nth: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4), z.literal('last')]),
    weekday: z.int().min(1).max(7),
  }),
  z.strictObject({
    workday: z
      .int()
      .min(-MOST_WORKDAY)
      .max(MOST_WORKDAY)
      .refine((k) => k !== 0, 'There is no working day 0.'),
  }),
]);

const fixedDates = { from: civilDate, to: civilDate };

export const periodSpec: z.ZodType<PeriodSpec> = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('unit'),
    unit,
    offset: z.int().min(-120).max(0).optional(),
    toDate: z.literal(true).optional(),
    fiscal: z.literal(true).optional(),
  }),
  z.strictObject({ kind: z.literal('rolling'), days: z.int().min(1).max(1100) }),
  z.strictObject({ kind: z.literal('fixed'), ...fixedDates }).superRefine(boundedRange),
]);

export const comparisonSpec: z.ZodType<ComparisonSpec> = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('none') }),
  z.strictObject({ kind: z.literal('previous') }),
  z.strictObject({ kind: z.literal('lastYear'), align: z.literal('date').optional() }),
  z.strictObject({ kind: z.literal('first') }),
  z.strictObject({ kind: z.literal('fixed'), ...fixedDates }).superRefine(boundedRange),
  z.strictObject({
    kind: z.literal('typical'),
    k: z.int().min(2, 'A typical level needs at least two periods.').max(24),
  }),
  z.strictObject({ kind: z.literal('target') }),
]);

export const ruleSpec: z.ZodType<Rule> = z.discriminatedUnion('freq', [
  z.strictObject({ freq: z.literal('daily') }),
  z.strictObject({ freq: z.literal('workdays') }),
  z.strictObject({
    freq: z.literal('weekly'),
    every: z.int().min(1).max(EVERY_WEEKS),
    weekdays: z.array(z.int().min(1).max(7)).min(1, 'Choose at least one weekday.').max(7),
  }),
  z.strictObject({ freq: z.literal('monthly'), every: z.int().min(1).max(EVERY_MONTHS), on }),
  z.strictObject({ freq: z.literal('quarterly'), month: z.union([z.literal(1), z.literal(2), z.literal(3)]), on }),
  z.strictObject({ freq: z.literal('yearly'), month: z.int().min(1).max(12), on }),
  z.strictObject({ freq: z.literal('once'), date: civilDate }),
]);

/** What is otherwise with one run. */
export const exceptionSpec: z.ZodType<Exception> = z.strictObject({
  skipped: z.literal(true).optional(),
  moved: z.strictObject({ date: civilDate, time: wallTime }).optional(),
  covers: z.strictObject(fixedDates).superRefine(boundedRange).optional(),
});

/** What is otherwise with single runs, by their unmoved dates. */
export const exceptionsSpec: z.ZodType<Exceptions> = z
  .record(civilDate, exceptionSpec)
  .refine((all) => Object.keys(all).length <= MOST_EXCEPTIONS, `A schedule has at most ${MOST_EXCEPTIONS} exceptions.`);
