import { lengthOf } from '../../calendar/index.ts';
import { isKnown, keyOf, type Question, targetAdds } from '../../figures/index.ts';
import { dayNoteWords, fill } from '../../words/index.ts';
import type { Laid, Scope } from './block.ts';
import { setTitle } from './blockTitle.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { metricField, titleField } from './fields.ts';
import { lineQuestions, lineValues, pointsOf, spanOf } from './trendSpan.ts';

const fields = { metric: metricField(), title: titleField };

type Trend = BlockOf<'trend', typeof fields>;

const targetOf = (block: Trend, { period, yardstick, filter }: Scope): Question | null =>
  yardstick?.kind === 'target' ? { op: 'target', metric: block.metric, range: period, filter } : null;

/** Heights of the chart in points: as it is where nothing else is wanted, and its limits. */
const USUAL = 128;
const LOWEST = 96;
const HIGHEST = 188;

/** Axis, names at the ends and a line between them that can be read, in points. */
const NARROWEST = 150;

/** A metric day by day, the compared range dashed behind it. */
export const trend = defineBlock({
  kind: 'trend',
  fields,
  make: ({ metric }) => ({ metric, title: '' }),
  about: 'metric',
  questions(block, scope) {
    const { current, before } = lineQuestions(block.metric, scope);
    return [current, before, targetOf(block, scope)].filter((q) => q !== null);
  },
  least: () => NARROWEST,
  lay(block, context) {
    const { format } = context;
    const target = targetOf(block, context);
    const { current, before: compared } = lineValues(block.metric, context, context.answers, context.book);
    const metric = context.book.of(block.metric);
    const label = context.labelOf(block.metric);
    // What is counted at the end of each day is not so many a day.
    const isLevel = metric.aggregation.kind === 'level' && !metric.aggregation.net;
    const title = block.title.trim() || (isLevel ? label : fill(format.words.perDay, { metric: label }));
    const span = spanOf(context.period);
    const points = pointsOf(context.period);
    for (const n of context.dayNotes) context.note(dayNoteWords(n, format));
    const against =
      context.compared && compared ? fill(format.words.comparedWith, { label: format.range(context.compared) }) : '';
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
        target: dailyTarget(),
        current: { values: current ?? [], label: format.range(context.period) },
        compared:
          compared?.some((v) => v !== null) && context.compared
            ? { values: compared, label: format.range(context.compared) }
            : null,
      });
    const layAt = (height: number): Laid => {
      const chart = drawn(height);
      return {
        height: head.height + chart.height,
        draw(pen, x, y) {
          head.draw(pen, x, y);
          chart.draw(pen, x, y + head.height);
        },
        elastic: { shrink: height - LOWEST, grow: HIGHEST - height, at: (whole) => layAt(whole - head.height) },
      };
    };
    return layAt(USUAL);

    /** What each day should bring: a sum's target shared out by days, any other as it is. */
    function dailyTarget() {
      const answer = target && context.answers[keyOf(target)];
      if (answer?.op !== 'target' || !isKnown(answer.value)) return null;
      const adds = targetAdds(metric.aggregation, context.book.lookup);
      const value = answer.value.value / (adds ? lengthOf(context.period) : 1);
      return { value, label: fill(format.words.target, { value: format.figure(value, metric.unit) }) };
    }
  },
});
