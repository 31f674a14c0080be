import type { CivilDate } from '../calendar/index.ts';
import {
  type Answers,
  type Change,
  changeOf,
  countedDays,
  countedFor,
  isKnown,
  keyOf,
  type MetricBook,
  type MetricUnit,
  na,
  type Value,
  valueOfAnswer,
} from '../figures/index.ts';
import { type Agreement, agree, type Formatter, fill, withoutDaysWords } from '../words/index.ts';
import type { Scope } from './blocks/block.ts';
import { excludedIn } from './excludedIn.ts';
import type { Otherwise } from './mergeFields.ts';

/** A text, followed by remarks in one pair of brackets. */
const asideOf = (text: string, beside: readonly string[], { words }: Formatter): string =>
  beside.length === 0
    ? text
    : fill(words.aside, { text, aside: beside.reduce((first, second) => fill(words.semicolon, { first, second })) });

/** A figure, followed by its days where not all of them are known, and by those that it leaves out. */
function figureText(
  value: Value,
  unit: MetricUnit,
  days: number,
  { more }: Agreement,
  format: Formatter,
  without: readonly string[],
): string | null {
  if (!isKnown(value)) return null;
  const text = format.figure(value.value, unit, more);
  const known =
    value.share === undefined
      ? format.words.reasons.partial
      : format.count(format.words.coveredDays, days, { covered: Math.round(value.share * days) });
  const beside = [...(value.partial ? [known] : []), ...without];
  return asideOf(text, beside, format);
}

/** A change, with the days that it leaves out; where either side is partly known, words that say so unless the template has its own (SEMANTICS §4). */
function changeText(
  change: Change,
  agreement: Agreement,
  format: Formatter,
  beside: readonly string[],
): string | Otherwise | null {
  const told = format.change(change, agreement);
  if (told !== null) return asideOf(told, beside, format);
  return typeof change.abs === 'number' ? { otherwise: format.words.notComparable } : null;
}

/** The merge fields of a report's dates. */
export const dateFields = ({ period, compared }: Scope, format: Formatter): Record<string, string | null> => ({
  'period.label': format.range(period),
  'period.from': format.date(period.from),
  'period.to': format.date(period.to),
  'comparison.label': compared && format.range(compared),
});

/** The questions behind a metric's merge fields. */
export const figureQuestions = (metric: string, { period, compared, filter }: Scope) =>
  (compared ? [period, compared] : [period]).map((range) => ({ op: 'total', metric, range, filter }) as const);

/** A metric's figure and its change as merge fields say them, in mails and in commentaries alike; null for none. */
export function figureFields(
  key: string,
  whole: Scope,
  told: { answers: Answers; book: MetricBook; format: Formatter },
): { figure: string | null; change: string | Otherwise | null } {
  const { answers, book, format } = told;
  const metric = book.of(key);
  const [current = null, compared = null] = figureQuestions(key, whole).map((q) => valueOfAnswer(answers[keyOf(q)]));
  const change = current && compared && changeOf(current, compared, metric.unit, metric.polarity);
  const agreement = agree(current ?? na('no-data'), compared, change, metric.unit, format);
  const own = excludedIn(key, whole, book);
  const counted = countedFor(whole.period, [key], book);
  const left = (days: readonly CivilDate[]): string[] => (days.length > 0 ? [withoutDaysWords(days, format)] : []);
  const beside = left(own.period.length > 0 ? own.period : own.compared);
  return {
    figure: current && figureText(current, metric.unit, countedDays(counted), agreement, format, left(own.period)),
    change: change && changeText(change, agreement, format, beside),
  };
}
