import type { Range } from '../../calendar/index.ts';
import {
  countedDays,
  countedFor,
  isKnown,
  keyOf,
  type Question,
  targetAdds,
  valueOfAnswer,
} from '../../figures/index.ts';
import { dayNoteWords, fill, titleBy } from '../../words/index.ts';
import type { Laid, LayoutContext, Scope } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { beforeOf, comparisonHead, noteComparedTotal, noteTypical } from './comparison.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { laterChoiceField, laterDimensionField, laterMetricsField, metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { partlyNote } from './notePartly.ts';
import { stack } from './stack.ts';
import { comparedPoints, periodPoints, pointsOf, type Span, spanOf } from './trendSpan.ts';

const fields = {
  metric: metricField(),
  more: laterMetricsField({ label: 'More metrics', hint: 'A chart for each below', most: 4 }),
  by: laterDimensionField({ label: 'Lines of', none: 'Total only' }),
  shape: laterChoiceField({
    label: 'Chart type',
    options: [
      { value: 'line', label: 'A line' },
      { value: 'area', label: 'An area' },
      { value: 'columns', label: 'Columns' },
    ],
  }),
  step: laterChoiceField({
    label: 'Each point is',
    options: [
      { value: 'auto', label: 'Automatic' },
      { value: 'day', label: 'A day' },
      { value: 'week', label: 'A week, on average' },
      { value: 'month', label: 'A month, on average' },
    ],
  }),
  title: titleField,
};

type Trend = BlockOf<'trend', typeof fields>;

/** Lines of a chart that an eye tells from each other. */
const MOST_LINES = 5;

/** The metric as a whole over the period, and over what it is held against: what the chart's text tells, and its level. */
const wholeOf = (metric: string, scope: Scope) => ({
  current: { op: 'total', metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(metric, scope),
});

const daysQuestion = (metric: string, { filter }: Scope, range: Range | null): Question | null =>
  range && { op: 'byDay', metric, range, filter };

const linesQuestion = (metric: string, dimension: string, { period: range, filter }: Scope): Question => ({
  op: 'topByDay',
  metric,
  dimension,
  n: MOST_LINES,
  range,
  filter,
});

/** The days of a question's answer; null where there are none. */
function dailyOf({ answers }: LayoutContext, question: Question | null): (number | null)[] | null {
  const answer = question && answers[keyOf(question)];
  return answer?.op === 'byDay' && Array.isArray(answer.values) ? answer.values : null;
}

/** Heights of the chart in points: as it is where nothing else is wanted, and its limits. */
const USUAL = 128;
const LOWEST = 96;
const HIGHEST = 188;

/** Axis, names at the ends and a line between them that can be read, in points. */
const NARROWEST = 150;

/** What the points of a metric's line are of: as chosen, where that can be told of it. */
function stepOf({ step = 'auto' }: Trend, period: Range, adds: boolean): Span {
  return step === 'auto' || !adds ? spanOf(period, adds) : step;
}

/** One metric over time. */
function layOne(block: Trend, metricKey: string, title: string, context: LayoutContext): Laid {
  const { format } = context;
  const whole = wholeOf(metricKey, context);
  const metric = context.book.of(metricKey);
  const adds = targetAdds(metric.aggregation, context.book.lookup);
  const span = stepOf(block, context.period, adds);
  const points = pointsOf(context.period, span, context.weekStart);
  const spanned = { day: '', week: format.words.byWeek, month: format.words.byMonth }[span];
  for (const n of context.dayNotes) context.note(dayNoteWords(n, format));
  const counted = countedFor(context.period, [metricKey], context.book);
  const countedBefore = context.compared && countedFor(context.compared, [metricKey], context.book);
  const lines = block.by === undefined ? null : linesOf(block.by);
  if (lines && 'na' in lines) return layReason(context, title, format.words.reasons[lines.na]);
  const current = dailyOf(context, daysQuestion(metricKey, context, context.period));
  const before = lines ? null : dailyOf(context, daysQuestion(metricKey, context, context.compared));
  const own = periodPoints(current ?? [], counted, span, context.weekStart);
  const other = before && countedBefore && comparedPoints(before, counted, countedBefore, span, context.weekStart);
  // A gap among days is seen; within a week or a month it is said.
  if (own.partial)
    context.note(partlyNote(context.noteLabelOf(metricKey), format.range(context.period), undefined, format));
  if (other?.partial && context.compared)
    context.note(partlyNote(context.noteLabelOf(metricKey), format.range(context.compared), undefined, format));
  if (!lines) {
    noteTypical(context, metricKey);
    noteComparedTotal(context, metricKey);
  }
  const against = context.compared && other ? comparisonHead(context) : '';
  const beside = [spanned, against].filter((t) => t !== '').join(' · ');
  const head = setTitle(context, title, context.dayMark(metricKey), beside);
  const [first, ...others] = lines ?? [{ values: own.values, label: format.range(context.period) }];
  const drawn = (height: number) =>
    context.lineChart({
      title,
      width: context.width,
      height,
      unit: metric.unit,
      span,
      points,
      // Columns of several values would stand before each other.
      shape: lines ? 'line' : block.shape,
      // Each on the points that hold its days.
      marks: context.dayNotes.map((n) => ({
        from: Math.max(
          0,
          points.findLastIndex((d) => d <= n.from),
        ),
        to: points.findLastIndex((d) => d <= n.to),
      })),
      level: lines ? null : dailyLevel(),
      facts: factsOf(),
      current: first!,
      others,
      compared:
        other?.values.some((v) => v !== null) && context.compared
          ? { values: other.values, label: format.range(context.compared) }
          : null,
    });
  const layAt = (height: number): Laid => {
    const chart = drawn(height);
    return {
      height: head.height + chart.height,
      name: title,
      draw(pen, x, y) {
        head.draw(pen, x, y);
        chart.draw(pen, x, y + head.height);
      },
      elastic: { shrink: height - LOWEST, grow: HIGHEST - height, at: (tall) => layAt(tall - head.height) },
    };
  };
  return layAt(USUAL);

  /** A line for each of the values that lead, or why there is none. */
  function linesOf(dimension: string) {
    const answer = context.answers[keyOf(linesQuestion(metricKey, dimension, context))];
    const found = answer?.op === 'topByDay' ? answer.series : ({ na: 'no-data' } as const);
    if ('na' in found) return found;
    if (found.length === 0) return { na: 'no-data' } as const;
    return found.map(({ label: value, values }) => ({
      label: format.valueName(dimension, value),
      values: periodPoints(values, counted, span, context.weekStart).values,
    }));
  }

  /** What each day should bring, or usually brings: a sum's shared out by days, any other as it is. */
  function dailyLevel() {
    const { yardstick } = context;
    const value = yardstick && whole.before && valueOfAnswer(context.answers[keyOf(whole.before)]);
    if (!value || !isKnown(value)) return null;
    const daily = value.value / (adds ? countedDays(counted) : 1);
    const says = yardstick.kind === 'target' ? format.words.target : format.words.typical;
    return { value: daily, label: fill(says, { value: format.figure(daily, metric.unit) }) };
  }

  /** What the lines come to, and what was noted of their days: for whoever does not see the chart. */
  function factsOf(): string[] {
    const { compared, period, dayNotes } = context;
    const said = (name: string, question: Question | null): string[] => {
      const value = question && valueOfAnswer(context.answers[keyOf(question)]);
      if (!value) return [];
      const text = isKnown(value) ? format.figure(value.value, metric.unit) : format.words.reasons[value.na];
      return [fill(format.words.labelled, { label: name, text })];
    };
    return [
      ...said(format.range(period), whole.current),
      ...(compared ? said(format.range(compared), whole.before) : []),
      ...dayNotes.map((n) => dayNoteWords(n, format)),
    ];
  }
}

/** A metric over time, the compared range dashed behind it; more of them beneath, or lines of a dimension's values. */
export const trend = defineBlock({
  kind: 'trend',
  fields,
  mail: { as: 'chart' },
  make: ({ metric }) => ({ metric, title: '' }),
  about: 'metric',
  questions: (block, scope) =>
    [block.metric, ...(block.more ?? [])]
      .flatMap((metric) => [
        daysQuestion(metric, scope, scope.period),
        ...(block.by === undefined
          ? [daysQuestion(metric, scope, scope.compared)]
          : [linesQuestion(metric, block.by, scope)]),
        ...Object.values(wholeOf(metric, scope)),
      ])
      .filter((q) => q !== null),
  least: () => NARROWEST,
  lay(block, context) {
    const { format } = context;
    const parts = [block.metric, ...(block.more ?? [])].map((key, i) => {
      const { aggregation } = context.book.of(key);
      const label = context.labelOf(key);
      const own = i === 0 ? block.title.trim() : '';
      return layOne(block, key, own || titleOf(), context);

      /** Sums are so many per day; a rate has a value by day; what is counted at the end of each day stands by its name. */
      function titleOf(): string {
        const { words } = format;
        if (aggregation.kind === 'level' && !aggregation.net)
          return block.by ? titleBy(words.rankingTitle, label, block.by, format) : label;
        const adds = targetAdds(aggregation, context.book.lookup);
        if (block.by) return titleBy(adds ? words.perDayBy : words.byDayBy, label, block.by, format);
        return fill(adds ? words.perDay : words.byDay, { metric: label });
      }
    });
    return stack(parts);
  },
});
