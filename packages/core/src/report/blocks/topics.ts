import {
  type CountedRange,
  countedDays,
  countedFor,
  isKnown,
  keyOf,
  type Pair,
  type Question,
  type Value,
} from '../../figures/index.ts';
import { dimensionName } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable } from './blockTable.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { countField, dimensionField, metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { linksQuestion } from './linksQuestion.ts';
import { notePartly } from './notePartly.ts';
import { partlyText } from './partly.ts';

const fields = {
  metric: metricField({ label: 'Posts counted' }),
  dimension: dimensionField({ label: 'Topics' }),
  n: countField({ label: 'Most topics', most: 30 }),
  title: titleField,
};

type Topics = BlockOf<'topics', typeof fields>;
type Lacking = Extract<Value, { na: unknown }>['na'];

const ask = ({ metric, dimension, n }: Topics, { period: range, compared, filter }: Scope): Question => ({
  op: 'top',
  metrics: [metric],
  dimension,
  n,
  range,
  compared,
  filter,
});

/** A figure of so many days as one of each of them: of those that are known where not all are. */
function aDay(value: Value | null, days: number): Value {
  if (value === null) return { na: 'no-data' };
  if (!isKnown(value)) return value;
  const known = value.partial && value.share !== undefined ? Math.max(1, Math.round(value.share * days)) : days;
  return { ...value, value: value.value / known };
}

function tableOf(block: Topics, context: LayoutContext): BlockTable | { title: string; na: Lacking } {
  const { format, palette, period, compared } = context;
  const { words } = format;
  const title = block.title.trim() || words.topics.title;
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  const daysOf = (range: CountedRange) => countedDays(countedFor(range, [block.metric], context.book));
  const say = (value: number) => format.decimal(value);
  const now = ([cell]: Pair[]) => aDay(cell!.current, daysOf(period));
  const before = ([cell]: Pair[]) => (compared ? aDay(cell!.compared, daysOf(compared)) : null);
  const most = Math.max(
    0,
    ...found.rows.map(({ cells }) => (isKnown(now(cells)) ? (now(cells) as { value: number }).value : 0)),
  );
  const metric = context.book.of(block.metric);
  return {
    title,
    head: dimensionName(block.dimension, context.format),
    heads: [
      { text: words.topics.aDay, mark: context.dayMark(block.metric) },
      ...(compared ? [{ text: words.topics.before, mark: '' }] : []),
      { text: context.labelOf(block.metric), mark: '' },
    ],
    lines: found.rows.map(({ label, cells }) => {
      const value = now(cells);
      const was = before(cells);
      return {
        label: format.valueName(block.dimension, label),
        link: context.linkOf(block.dimension, label),
        bar: isKnown(value) ? value.value / (most || 1) : null,
        cells: [
          { text: partlyText({ say }, value), fill: palette.ink },
          ...(compared ? [{ text: was ? partlyText({ say }, was) : '–', fill: palette.muted }] : []),
          {
            text: partlyText({ say: (v) => format.cell(v, metric.unit) }, cells[0]!.current),
            fill: palette.muted,
          },
        ],
      };
    }),
  };
}

/** How much is written under each topic, a day (SEMANTICS §12), with where to read it. */
export const topics = defineBlock({
  kind: 'topics',
  fields,
  make: () => ({ metric: 'topicPosts', dimension: 'hashtag' as const, n: 10, title: '' }),
  about: 'dimension',
  questions: (block, scope) => [ask(block, scope), ...linksQuestion(block.metric, block.dimension, scope)],
  least(block, context) {
    const table = tableOf(block, context);
    return 'na' in table ? 0 : leastOfTable(context, table);
  },
  lay(block, context) {
    const table = tableOf(block, context);
    if ('na' in table) return layReason(context, table.title, context.format.words.reasons[table.na]);
    const answer = context.answers[keyOf(ask(block, context))];
    if (answer?.op === 'top' && !('na' in answer.breakdown))
      notePartly(context, block.metric, answer.breakdown.total[0]!.current);
    return layTable(context, table);
  },
});
