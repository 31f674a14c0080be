import { type Item, isKnown, keyOf, type Question, type Value } from '../../figures/index.ts';
import { dimensionName, fill, nameForms, type Said } from '../../words/index.ts';
import type { Laid, LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable } from './blockTable.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { choiceField, countField, dimensionField, metricField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { notePartly } from './notePartly.ts';
import { partlyText } from './partly.ts';
import { stack } from './stack.ts';

const fields = {
  metric: metricField({ label: 'Measured by' }),
  dimension: dimensionField({ label: 'Of' }),
  ends: choiceField({
    label: 'Shown',
    options: [
      { value: 'both', label: 'The highest and the lowest' },
      { value: 'best', label: 'The highest' },
      { value: 'worst', label: 'The lowest' },
    ],
  }),
  n: countField({ label: 'How many of each', most: 10 }),
  title: titleField,
};

type Standouts = BlockOf<'standouts', typeof fields>;
type Lacking = Extract<Value, { na: unknown }>['na'];

const ask = ({ metric, dimension, n }: Standouts, { period: range, filter }: Scope): Question => ({
  op: 'items',
  metric,
  dimension,
  n,
  range,
  filter,
});

/** The highest or the lowest as a table, each with its day and where it leads. */
function tableOf(
  block: Standouts,
  context: LayoutContext,
  items: readonly Item[],
  most: number,
  title: string,
): BlockTable {
  const { format, palette } = context;
  const { words } = format;
  const metric = context.book.of(block.metric);
  const values = items.flatMap(({ value }) => (isKnown(value) ? [value.value] : []));
  const column = format.column(values, metric.unit);
  return {
    title,
    head: dimensionName(block.dimension, context.format),
    heads: [
      { text: context.labelOf(block.metric), mark: context.dayMark(block.metric) },
      { text: words.standouts.day, mark: '' },
    ],
    lines: items.map(({ label, value, day, link, picture }) => ({
      picture: context.pictureOf(picture),
      label: format.valueName(block.dimension, label),
      link: link ?? context.linkOf(block.dimension, label),
      bar: isKnown(value) ? value.value / (most || 1) : null,
      cells: [
        { text: partlyText(column, value), fill: palette.ink },
        { text: format.shortDate(day), fill: palette.muted },
      ],
    })),
  };
}

/** What the block says before it is known how wide it is: a table for each end. */
function toldOf(block: Standouts, context: LayoutContext): BlockTable[] | { title: string; na: Lacking } {
  const { words } = context.format;
  const said = nameForms(context.labelOf(block.metric), context.format);
  const own = block.title.trim();
  const titleOf = (pattern: Said) => (own === '' ? fill(pattern, said) : own);
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'items' ? answer.standing : ({ na: 'no-data' } as const);
  if ('na' in found) return { title: titleOf(words.standouts.best), na: found.na };
  if (found.of === 0) return { title: titleOf(words.standouts.best), na: 'no-data' };
  // Both tables have one scale.
  const most = Math.max(0, ...[...found.best, ...found.worst].map(({ value }) => (isKnown(value) ? value.value : 0)));
  const tables: BlockTable[] = [];
  if (block.ends !== 'worst') tables.push(tableOf(block, context, found.best, most, titleOf(words.standouts.best)));
  // Of few there are no lowest beside the highest.
  const worst = block.ends === 'worst' && found.worst.length === 0 ? found.best : found.worst;
  if (block.ends !== 'best' && worst.length > 0) {
    // One's own title stands once.
    const title = tables.length > 0 && own !== '' ? fill(words.standouts.worst, said) : titleOf(words.standouts.worst);
    tables.push(tableOf(block, context, worst, most, title));
  }
  return tables;
}

/** Items of the period that stand out by one metric: the highest and the lowest (SEMANTICS §12). */
export const standouts = defineBlock({
  kind: 'standouts',
  fields,
  make: ({ metric, dimension }) => ({ metric, dimension, ends: 'both' as const, n: 3, title: '' }),
  about: 'dimension',
  questions: (block, { period: range, filter, ...scope }) => [
    ask(block, { period: range, filter, ...scope }),
    { op: 'total', metric: block.metric, range, filter },
  ],
  least(block, context) {
    const told = toldOf(block, context);
    return 'na' in told ? 0 : Math.max(0, ...told.map((t) => leastOfTable(context, t)));
  },
  lay(block, context): Laid {
    const told = toldOf(block, context);
    if ('na' in told) return layReason(context, told.title, context.format.words.reasons[told.na]);
    const { period: range, filter } = context;
    const whole = context.answers[keyOf({ op: 'total', metric: block.metric, range, filter })];
    if (whole?.op === 'total') notePartly(context, block.metric, whole.value);
    return stack(told.map((t) => layTable(context, t)));
  },
});
