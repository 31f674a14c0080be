import { isKnown, keyOf, type Question, type Reason, type Value, valueOfAnswer } from '../../figures/index.ts';
import { type Formatter, fill, fullStop, nameForms, type PeriodWords } from '../../words/index.ts';
import type { Dates, LayoutContext, Scope } from './block.ts';

/** What a figure is held against: another range, its usual level, its target, or nothing. */
export function beforeOf(metric: string, { period, compared, yardstick, filter }: Scope): Question | null {
  if (compared) return { op: 'total', metric, range: compared, filter };
  if (yardstick?.kind === 'typical') return { op: 'typical', metric, ranges: yardstick.ranges, filter };
  return yardstick ? { op: 'target', metric, range: period, filter } : null;
}

/** What figures are compared with, as sentences take it. */
export function againstOf({
  compared,
  yardstick,
  format,
}: Pick<Dates, 'compared' | 'yardstick'> & { format: Formatter }): PeriodWords {
  if (compared) return format.period(compared);
  return format.words.yardsticks[yardstick?.kind === 'target' ? 'target' : 'typical'];
}

/**
 * What figures are compared with, as a heading: `vs October 2026`, `vs a typical period (average of 6)`; empty for nothing.
 * @param isDated always by its dates: `vs 1–31 October 2026`
 */
export function comparisonHead(
  dates: Pick<Dates, 'compared' | 'yardstick'> & { format: Formatter },
  isDated = false,
): string {
  const { compared, yardstick, format } = dates;
  if (!compared && !yardstick) return '';
  const { title } = againstOf(dates);
  const said =
    compared && isDated
      ? format.dates(compared)
      : yardstick?.kind === 'typical'
        ? format.count(format.words.typicalOf, yardstick.ranges.length, { title })
        : title;
  return fill(format.words.comparison, { label: said });
}

/** Why nothing is compared, said of what it would be compared with: `September 2026: not yet measured`, `no target`. */
export function comparedLack(
  { compared, yardstick, format }: Pick<LayoutContext, 'compared' | 'yardstick' | 'format'>,
  na: Reason,
): string {
  const { words } = format;
  if (compared) return fill(words.labelled, { label: format.range(compared), text: words.reasons[na] });
  return yardstick?.kind === 'target' ? words.noTarget : words.reasons[na];
}

/** Says of a figure that what it is compared with is not known, where the page does not say so of all of them. */
export function noteCompared(context: LayoutContext, metric: string, before: Value | null | undefined): void {
  if (!context.compared || !before || isKnown(before) || context.nothingCompared) return;
  const { words } = context.format;
  const metricLabel = context.noteLabelOf(metric);
  const label = context.compared
    ? fill(words.ofDates, { metric: metricLabel, dates: context.format.range(context.compared) })
    : metricLabel;
  context.note(fullStop(fill(words.labelled, { label, text: words.reasons[before.na] })));
}

/** {@link noteCompared} by the answer to what the metric's total is compared with. */
export function noteComparedTotal(context: LayoutContext, metric: string): void {
  const question = beforeOf(metric, context);
  noteCompared(context, metric, question && valueOfAnswer(context.answers[keyOf(question)]));
}

/** Says of a metric's usual level that fewer periods stand behind it than were asked for (SEMANTICS §3). */
export function noteTypical(context: LayoutContext, metric: string): void {
  const question = beforeOf(metric, context);
  const answer = question && context.answers[keyOf(question)];
  if (answer?.op !== 'typical' || 'na' in answer.value || answer.value.count === answer.value.of) return;
  const { count, of } = answer.value;
  const { format } = context;
  context.note(fill(format.words.noteTypical, { ...nameForms(context.noteLabelOf(metric), format), count, of }));
}
