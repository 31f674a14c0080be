import { z } from 'zod';
import { daysOf, lengthOf } from '../../calendar/index.ts';
import { type Answers, isKnown, keyOf, type Question, targetAdds } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import { metricKey, unknownMetrics } from './keys.ts';
import type { BlockKind, Dates, TextStyle } from './sheet.ts';

export const trendSchema = z.strictObject({
  kind: z.literal('trend'),
  id: z.string(),
  metric: metricKey,
  /** Empty: "Visits per day", in the report's language. */
  title: z.string().max(120, 'Keep a title to 120 characters.'),
});

type Trend = z.infer<typeof trendSchema>;

interface Asked {
  current: Question;
  before: Question | null;
  target: Question | null;
}

const asks = (block: Trend, { period, compared, yardstick }: Dates): Asked => ({
  current: { op: 'byDay', metric: block.metric, range: period, filter: {} },
  before: compared && { op: 'byDay', metric: block.metric, range: compared, filter: {} },
  target: yardstick?.kind === 'target' ? { op: 'target', metric: block.metric, range: period } : null,
});

function seriesOf(answers: Answers, question: Question | null): (number | null)[] | null {
  const answer = question && answers[keyOf(question)];
  return answer?.op === 'byDay' && Array.isArray(answer.values) ? answer.values : null;
}

/** A metric day by day, the compared range dashed behind it. */
export const trend: BlockKind<Trend> = {
  questions(block, dates) {
    return Object.values(asks(block, dates)).filter((q) => q !== null);
  },
  check: (block, book) => unknownMetrics([block.metric], 'metric', book),
  lay(block, desk) {
    const { format, palette } = desk;
    const { current, before, target } = asks(block, desk);
    const metric = desk.book.of(block.metric);
    const label = desk.labelOf(block.metric);
    // What is counted at the end of each day is not so many a day.
    const isLevel = metric.aggregation.kind === 'level' && !metric.aggregation.net;
    const title = block.title.trim() || (isLevel ? label : fill(format.words.perDay, { metric: label }));
    const compared = seriesOf(desk.answers, before);
    const titleStyle: TextStyle = { face: 'sansBold', size: 9.5, fill: palette.ink };
    const subStyle: TextStyle = { face: 'sans', size: 9.5, fill: palette.muted };
    const days = daysOf(desk.period);
    for (const n of desk.dayNotes) {
      const dates = n.from === n.to ? format.shortDate(n.from) : format.shortRange(n);
      desk.note(fill(format.words.noteDay, { dates, text: n.text }));
    }
    const chart = desk.lineChart({
      title,
      width: desk.width,
      height: 128,
      unit: metric.unit,
      days,
      marks: desk.dayNotes.map((n) => ({
        from: Math.max(
          0,
          days.findIndex((d) => d >= n.from),
        ),
        to: days.findLastIndex((d) => d <= n.to),
      })),
      target: dailyTarget(),
      current: { values: seriesOf(desk.answers, current) ?? [], label: format.range(desk.period) },
      compared:
        compared?.some((v) => v !== null) && desk.compared
          ? { values: compared, label: format.range(desk.compared) }
          : null,
    });
    return {
      height: 16 + chart.height,
      draw(pen, x, y) {
        pen.tagged('H2', null, () => {
          pen.text(x, y + 10, desk.fit(title, titleStyle, desk.width), titleStyle);
        });
        if (desk.compared && compared) {
          const indent = desk.measure(`${title}   `, titleStyle);
          const sub = fill(format.words.comparedWith, { label: format.range(desk.compared) });
          if (indent + desk.measure(sub, subStyle) < desk.width) {
            pen.tagged('P', null, () => pen.text(x + indent, y + 10, sub, subStyle));
          }
        }
        chart.draw(pen, x, y + 16);
      },
    };

    /** What each day should bring: a sum's target shared out by days, any other as it is. */
    function dailyTarget() {
      const answer = target && desk.answers[keyOf(target)];
      if (answer?.op !== 'target' || !isKnown(answer.value)) return null;
      const adds = targetAdds(metric.aggregation, desk.book.lookup);
      const value = answer.value.value / (adds ? lengthOf(desk.period) : 1);
      return { value, label: fill(format.words.target, { value: format.figure(value, metric.unit) }) };
    }
  },
};
