import {
  type Change,
  changeOf,
  isKnown,
  keyOf,
  type Metric,
  type Question,
  type Value,
  valueOfAnswer,
} from '../../figures/index.ts';
import { type Agreement, agree, fill, type Said, withoutDaysWords } from '../../words/index.ts';
import { excludedIn } from '../excludedIn.ts';
import type { LayoutContext, Scope } from './block.ts';
import { beforeOf, comparedLack } from './comparison.ts';
import type { KpiFigure, Told } from './kpiCell.ts';

const asks = (metric: string, scope: Scope) => ({
  current: { op: 'total', metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(metric, scope),
  daily: { op: 'byDay', metric, range: scope.period, filter: scope.filter } satisfies Question,
});

/** How much is known of a figure that is not made from all of its days; nothing of one that is. */
function partialLines({ format }: LayoutContext, value: Value): string[] {
  if (!isKnown(value) || !value.partial) return [];
  const { words } = format;
  return [
    value.share === undefined
      ? words.reasons.partial
      : fill(words.partial, { share: format.coveredShare(value.share) }),
  ];
}

/** What a figure is held against, in words, and how much of either is known. */
function linesBeneath(
  context: LayoutContext,
  metric: Metric,
  current: Value,
  before: Value | null,
  more: number,
): string[] {
  if (!isKnown(current)) return [];
  const left = withoutDaysWords(excludedIn(metric.key, context, context.book).period, context.format);
  const lines = [...(left === '' ? [] : [left]), ...partialLines(context, current)];
  if (before === null) return lines;
  const { format } = context;
  if (isKnown(before)) lines.push(fill(saysBefore(context), { value: format.figure(before.value, metric.unit, more) }));
  else if (context.yardstick?.kind !== 'target') lines.push(comparedLack(context, before.na));
  return [...lines, ...partialLines(context, before)];
}

function toldOf(context: LayoutContext, change: Change | null, agreement: Agreement): Told | null {
  const text = change && context.format.change(change, agreement);
  return change && text !== null ? { change, text, isJudged: agreement.isTold } : null;
}

/** How the figure that it is held against is named. */
const saysBefore = ({ yardstick, format: { words } }: LayoutContext): Said =>
  yardstick ? (yardstick.kind === 'target' ? words.target : words.typical) : words.from;

/** One figure with what it is held against. */
export function figureOf(context: LayoutContext, key: string): KpiFigure {
  const { answers } = context;
  const metric = context.book.of(key);
  const asked = asks(key, context);
  const none = { na: 'no-data' as const };
  const current = valueOfAnswer(answers[keyOf(asked.current)]) ?? none;
  const before = asked.before ? (valueOfAnswer(answers[keyOf(asked.before)]) ?? none) : null;
  const moved = before && changeOf(current, before, metric.unit, metric.polarity);
  const agreement = agree(current, before, moved, metric.unit, context.format);
  const daily = answers[keyOf(asked.daily)];
  const days = daily?.op === 'byDay' && Array.isArray(daily.values) ? daily.values : [];
  return {
    metric,
    label: context.labelOf(key),
    mark: context.dayMark(key),
    current,
    change: toldOf(context, moved, agreement),
    lines: linesBeneath(context, metric, current, before, agreement.more),
    more: agreement.more,
    // Of one day or two a line says nothing.
    days: days.length > 2 && days.some((d) => d !== null) ? days : [],
  };
}

/** What a headline figure asks: its value, what it is held against, and its days. */
export function questionsOfFigure(metric: string, scope: Scope): Question[] {
  const { current, before, daily } = asks(metric, scope);
  return before ? [current, before, daily] : [current, daily];
}
