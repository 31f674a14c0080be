import type { Range } from '../../calendar/index.ts';
import { isKnown, keyOf, type Metric, type Pair, type Question, type Value } from '../../figures/index.ts';
import { type Column, fill } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { countField, dimensionField, metricsField, titleField } from './fields.ts';
import { beforeOf, noteTypical } from './heldAgainst.ts';
import { layReason } from './layReason.ts';
import { type Line, layTable, leastOfTable, PARTLY, type Table } from './rankingTable.ts';

const fields = {
  dimension: dimensionField(),
  metrics: metricsField({ hint: 'The first one ranks', most: 4 }),
  n: countField({ label: 'Rows before “Other”', most: 50 }),
  title: titleField,
};

type Ranking = BlockOf<'ranking', typeof fields>;

const ask = (block: Ranking, { period, compared, yardstick, filter }: Scope): Question => ({
  op: 'top',
  metrics: block.metrics,
  dimension: block.dimension,
  n: block.n,
  range: period,
  compared,
  filter,
  ...(!compared && yardstick && { against: yardstick }),
});

const knownIn = (lines: readonly Line[], i: number): number[] =>
  lines.flatMap(({ cells }) => (isKnown(cells[i]!.current) ? [cells[i]!.current.value] : []));

/** Whether rows as they are printed say something else than their total as it is printed. */
function contradicts(lines: readonly Line[], metrics: readonly Metric[], columns: readonly Column[]): boolean {
  return metrics.some((metric, i) => {
    const total = lines.at(-1)!.cells[i]!.current;
    if (metric.aggregation.kind !== 'sum' || !isKnown(total)) return false;
    const { rounded } = columns[i]!;
    const printed = knownIn(lines.slice(0, -1), i).reduce((n, v) => n + rounded(v), 0);
    return Math.abs(printed - rounded(total.value)) > 1e-6;
  });
}

/** Says why the rest of a table cannot be told of a column: a service counts people for each label alone, say. */
function noteLacks(context: LayoutContext, other: readonly Pair[], metrics: readonly Metric[]): void {
  const { words } = context.format;
  metrics.forEach((metric, i) => {
    const { current } = other[i]!;
    if (!isKnown(current))
      context.note(`${context.labelOf(metric.key)}, ${words.other}: ${words.reasons[current.na]}.`);
  });
}

/** Says of columns, and of what they are held against, how many of their days are known. */
function notePartial(context: LayoutContext, total: readonly Pair[], metrics: readonly Metric[]): void {
  const { words, range, coveredShare } = context.format;
  const say = (mark: string, metric: Metric, dates: Range, value: Value | null) => {
    if (!value || !isKnown(value) || !value.partial) return;
    const label = context.labelOf(metric.key);
    const text =
      value.share === undefined
        ? `${label}, ${range(dates)}: ${words.reasons.partial}.`
        : fill(words.notePartial, { metric: label, dates: range(dates), share: coveredShare(value.share) });
    context.note(mark + text);
  };
  metrics.forEach((metric, i) => {
    say(`${PARTLY} `, metric, context.period, total[i]!.current);
    if (i === 0 && context.compared) say('', metric, context.compared, total[i]!.compared);
  });
}

type Lacking = Extract<Value, { na: unknown }>['na'];

/** What the block says before it is known how wide it is. */
function tableOf(block: Ranking, context: LayoutContext): Table | { title: string; na: Lacking } {
  const { words } = context.format;
  const metrics = block.metrics.map(context.book.of);
  const head = words.dimensions[block.dimension] ?? block.dimension;
  const title =
    block.title.trim() ||
    fill(words.rankingTitle, {
      metric: context.labelOf(block.metrics[0]!),
      dimension: words.smallNouns ? head.toLowerCase() : head,
    });
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  const lines: Line[] = found.rows.map((r) => ({
    label: context.format.valueName(block.dimension, r.label),
    cells: r.cells,
    kind: 'row',
  }));
  if (found.other) lines.push({ label: words.other, cells: found.other, kind: 'other' });
  const largest = lines.map((l) => (isKnown(l.cells[0]!.current) ? l.cells[0]!.current.value : 0));
  const top = Math.max(...largest);
  lines.push({ label: words.all, cells: found.total, kind: 'total' });
  const columns = metrics.map((m, i) => context.format.column(knownIn(lines, i), m.unit));
  // Against a target only where one is set for any of the rows.
  const hasChange =
    context.compared !== null || lines.some(({ cells: [first] }) => first?.compared && isKnown(first.compared));
  return { title, lines, metrics, columns, top: top > 0 ? top : 1, hasChange, head };
}

/** What has to be said of a table's figures. */
function noteTable(context: LayoutContext, { lines, metrics, columns }: Table): void {
  notePartial(context, lines.at(-1)!.cells, metrics);
  const other = lines.find((l) => l.kind === 'other');
  if (other) noteLacks(context, other.cells, metrics);
  if (contradicts(lines, metrics, columns)) context.note(context.format.words.noteRounding);
}

/** A table of the largest values of a dimension, with the rest as one row and a total. */
export const ranking = defineBlock({
  kind: 'ranking',
  fields,
  make: ({ metric, dimension }) => ({ dimension, metrics: [metric], n: 5, title: '' }),
  about: 'dimension',
  questions(block, scope) {
    // The rows have their own usual levels; that of the whole says how many periods stand behind it.
    const usual = scope.yardstick?.kind === 'typical' ? beforeOf(block.metrics[0]!, scope) : null;
    return usual ? [ask(block, scope), usual] : [ask(block, scope)];
  },
  least(block, context) {
    const table = tableOf(block, context);
    return 'na' in table ? 0 : leastOfTable(context, table);
  },
  lay(block, context) {
    const table = tableOf(block, context);
    if (!('na' in table)) {
      noteTable(context, table);
      noteTypical(context, block.metrics[0]!);
      return layTable(context, table);
    }
    return layReason(context, table.title, context.format.words.reasons[table.na]);
  },
});
