import { lengthOf, type Range } from '../calendar/index.ts';
import {
  type Answers,
  type Change,
  changeOf,
  isKnown,
  keyOf,
  type MetricBook,
  type MetricUnit,
  na,
  type Value,
  valueOfAnswer,
} from '../figures/index.ts';
import { type Agreement, agree, type Formatter, fill, withoutWords } from '../words/index.ts';
import type { DayNote, Scope } from './blocks/block.ts';
import type { Otherwise } from './mergeFields.ts';
import { oddOf, unexplained } from './oddDays.ts';

/** A figure, followed by its days where not all of them are known. */
function figureText(
  value: Value,
  unit: MetricUnit,
  range: Range,
  { more }: Agreement,
  format: Formatter,
): string | null {
  if (!isKnown(value)) return null;
  const text = format.figure(value.value, unit, more);
  if (!value.partial) return text;
  const days = lengthOf(range);
  const known =
    value.share === undefined
      ? format.words.reasons.partial
      : fill(format.words.coveredDays, { covered: Math.round(value.share * days), days });
  return `${text} (${known})`;
}

/** A change, with what it is without odd days that nobody explained; where either side is partly known, words that say so unless the template has its own (SEMANTICS §4). */
function changeText(
  change: Change,
  agreement: Agreement,
  format: Formatter,
  without: string | null,
): string | Otherwise | null {
  const told = format.change(change, agreement);
  if (told !== null && without !== null) return `${told} (${without})`;
  return told === null && typeof change.abs === 'number' ? { otherwise: format.words.notComparable } : told;
}

/** The merge fields of a report's dates. */
export const dateFields = ({ period, compared }: Scope, format: Formatter): Record<string, string | null> => ({
  'period.label': format.running(period),
  'period.from': format.date(period.from),
  'period.to': format.date(period.to),
  'comparison.label': compared && format.running(compared),
});

/** The questions behind a metric's merge fields. */
export const figureQuestions = (metric: string, { period, compared, filter }: Scope) =>
  (compared ? [period, compared] : [period]).map((range) => ({ op: 'total', metric, range, filter }) as const);

/** A metric's figure and its change as merge fields say them, in mails and in commentaries alike; null for none. */
export function figureFields(
  key: string,
  whole: Scope,
  told: { answers: Answers; book: MetricBook; format: Formatter; dayNotes: readonly DayNote[] },
): { figure: string | null; change: string | Otherwise | null } {
  const { answers, book, format, dayNotes } = told;
  const metric = book.of(key);
  const [current = null, compared = null] = figureQuestions(key, whole).map((q) => valueOfAnswer(answers[keyOf(q)]));
  const change = current && compared && changeOf(current, compared, metric.unit, metric.polarity);
  const agreement = agree(current ?? na('no-data'), compared, change, metric.unit, format);
  const odd = oddOf(answers, key, whole);
  const without = unexplained(odd, dayNotes).length === 0 ? null : withoutWords(odd, metric, format);
  return {
    figure: current && figureText(current, metric.unit, whole.period, agreement, format),
    change: change && changeText(change, agreement, format, without),
  };
}
