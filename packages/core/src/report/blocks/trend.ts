import { z } from 'zod';
import { daysOf } from '../../calendar/index.ts';
import { type Answers, keyOf, metricOf, type Question } from '../../figures/index.ts';
import { fill } from '../../words/index.ts';
import { metricKey } from './kpiRow.ts';
import type { BlockKind, Dates, TextStyle } from './sheet.ts';

export const trendSchema = z.strictObject({
  kind: z.literal('trend'),
  id: z.string(),
  metric: metricKey,
  /** Empty: "Visits per day", in the report's language. */
  title: z.string().max(120, 'Keep a title to 120 characters.'),
});

type Trend = z.infer<typeof trendSchema>;

const asks = (block: Trend, { period, compared }: Dates): { current: Question; before: Question | null } => ({
  current: { op: 'byDay', metric: block.metric, range: period, filter: {} },
  before: compared && { op: 'byDay', metric: block.metric, range: compared, filter: {} },
});

function seriesOf(answers: Answers, question: Question | null): (number | null)[] | null {
  const answer = question && answers[keyOf(question)];
  return answer?.op === 'byDay' && Array.isArray(answer.values) ? answer.values : null;
}

/** A metric day by day, the compared range dashed behind it. */
export const trend: BlockKind<Trend> = {
  questions(block, dates) {
    const { current, before } = asks(block, dates);
    return before ? [current, before] : [current];
  },
  lay(block, desk) {
    const { format, palette } = desk;
    const { current, before } = asks(block, desk);
    const metric = metricOf(block.metric);
    const label = format.words.metrics[block.metric] ?? block.metric;
    const title = block.title.trim() || fill(format.words.perDay, { metric: label });
    const compared = seriesOf(desk.answers, before);
    const titleStyle: TextStyle = { face: 'sansBold', size: 9.5, fill: palette.ink };
    const subStyle: TextStyle = { face: 'sans', size: 9.5, fill: palette.muted };
    const chart = desk.lineChart({
      title,
      width: desk.width,
      height: 128,
      unit: metric.unit,
      days: daysOf(desk.period),
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
  },
};
