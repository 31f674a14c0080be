import { lengthOf, type Range } from '../../calendar/index.ts';
import { isKnown, keyOf, type Question, targetAdds, valueOfAnswer } from '../../figures/index.ts';
import { dayNoteWords, fill } from '../../words/index.ts';
import type { Laid, LayoutContext, Scope } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricField, titleField } from './fields.ts';
import { beforeOf, noteTypical } from './heldAgainst.ts';
import { comparedPoints, periodPoints, pointsOf, spanOf } from './trendSpan.ts';

const fields = { metric: metricField(), title: titleField };

type Trend = BlockOf<'trend', typeof fields>;

/** The metric as a whole over the period, and over what it is held against: what the chart's text tells, and its level. */
const wholeOf = (block: Trend, scope: Scope) => ({
  current: { op: 'total', metric: block.metric, range: scope.period, filter: scope.filter } satisfies Question,
  before: beforeOf(block.metric, scope),
});

const daysQuestion = (block: Trend, { filter }: Scope, range: Range | null): Question | null =>
  range && { op: 'byDay', metric: block.metric, range, filter };

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

/** A metric over time, the compared range dashed behind it. */
export const trend = defineBlock({
  kind: 'trend',
  fields,
  make: ({ metric }) => ({ metric, title: '' }),
  about: 'metric',
  questions: (block, scope) =>
    [
      daysQuestion(block, scope, scope.period),
      daysQuestion(block, scope, scope.compared),
      ...Object.values(wholeOf(block, scope)),
    ].filter((q) => q !== null),
  least: () => NARROWEST,
  lay(block, context) {
    const { format } = context;
    const whole = wholeOf(block, context);
    const metric = context.book.of(block.metric);
    const adds = targetAdds(metric.aggregation, context.book.lookup);
    const span = spanOf(context.period, adds);
    const current = dailyOf(context, daysQuestion(block, context, context.period));
    const before = dailyOf(context, daysQuestion(block, context, context.compared));
    const own = periodPoints(current ?? [], context.period, span);
    const other = before && context.compared && comparedPoints(before, context.period, context.compared, span);
    const label = context.labelOf(block.metric);
    // What is counted at the end of each day is not so many a day.
    const isLevel = metric.aggregation.kind === 'level' && !metric.aggregation.net;
    const title = block.title.trim() || (isLevel ? label : fill(format.words.perDay, { metric: label }));
    const points = pointsOf(context.period, span);
    // A gap among days is seen; within a week or a month it is said.
    if (own.partial) context.note(`${label}, ${format.range(context.period)}: ${format.words.reasons.partial}.`);
    if (other?.partial && context.compared)
      context.note(`${label}, ${format.range(context.compared)}: ${format.words.reasons.partial}.`);
    for (const n of context.dayNotes) context.note(dayNoteWords(n, format));
    noteTypical(context, block.metric);
    const against =
      context.compared && other ? fill(format.words.comparedWith, { label: format.range(context.compared) }) : '';
    const spanned = { day: '', week: format.words.byWeek, month: format.words.byMonth }[span];
    const beside = [spanned, against].filter((t) => t !== '').join(', ');
    const head = setTitle(context, title, context.oddMark(block.metric), beside);
    const drawn = (height: number) =>
      context.lineChart({
        title,
        width: context.width,
        height,
        unit: metric.unit,
        span,
        points,
        // Each on the points that hold its days.
        marks: context.dayNotes.map((n) => ({
          from: Math.max(
            0,
            points.findLastIndex((d) => d <= n.from),
          ),
          to: points.findLastIndex((d) => d <= n.to),
        })),
        level: dailyLevel(),
        facts: factsOf(),
        current: { values: own.values, label: format.range(context.period) },
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
        elastic: { shrink: height - LOWEST, grow: HIGHEST - height, at: (whole) => layAt(whole - head.height) },
      };
    };
    return layAt(USUAL);

    /** What each day should bring, or usually brings: a sum's shared out by days, any other as it is. */
    function dailyLevel() {
      const { yardstick } = context;
      const value = yardstick && whole.before && valueOfAnswer(context.answers[keyOf(whole.before)]);
      if (!value || !isKnown(value)) return null;
      const daily = value.value / (adds ? lengthOf(context.period) : 1);
      const says = yardstick.kind === 'target' ? format.words.target : format.words.typical;
      return { value: daily, label: fill(says, { value: format.figure(daily, metric.unit) }) };
    }

    /** What the lines come to, and what was noted of their days: for whoever does not see the chart. */
    function factsOf(): string[] {
      const { compared, period, dayNotes } = context;
      const said = (name: string, question: Question | null): string[] => {
        const value = question && valueOfAnswer(context.answers[keyOf(question)]);
        if (!value) return [];
        return [
          `${name}: ${isKnown(value) ? format.figure(value.value, metric.unit) : format.words.reasons[value.na]}`,
        ];
      };
      return [
        ...said(format.range(period), whole.current),
        ...(compared ? said(format.range(compared), whole.before) : []),
        ...dayNotes.map((n) => dayNoteWords(n, format)),
      ];
    }
  },
});
