import { MOST_ALL_ROWS, MOST_TABLE_ROWS } from '../../bounds/index.ts';
import type { Range } from '../../calendar/index.ts';
import { changeOf, isKnown, keyOf, type Metric, type Pair, type Question, type Value } from '../../figures/index.ts';
import { type Column, dimensionName, fill, fullStop, titleBy } from '../../words/index.ts';
import type { LayoutContext, Scope } from './block.ts';
import { type BlockTable, layTable, leastOfTable, type TableCell, type TableLine } from './blockTable.ts';
import { beforeOf, noteCompared, noteTypical } from './comparison.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { countField, dimensionField, laterChoiceField, metricsField, titleField } from './fields.ts';
import { layReason } from './layReason.ts';
import { mailTableOf } from './mailTable.ts';
import { partlyNote } from './notePartly.ts';
import { PARTLY, partlyText } from './partly.ts';

const fields = {
  dimension: dimensionField(),
  metrics: metricsField({ hint: 'Sorted by the first metric', most: 4 }),
  rows: laterChoiceField({
    label: 'Rows',
    options: [
      { value: 'some', label: 'Top rows, then “Other”' },
      { value: 'all', label: 'All rows (may run over several pages)' },
    ],
  }),
  n: countField({ label: 'Rows before “Other”', most: MOST_TABLE_ROWS }),
  order: laterChoiceField({
    label: 'Ordered by',
    options: [
      { value: 'current', label: 'Value, largest first' },
      { value: 'change', label: 'Change, largest first' },
    ],
  }),
  changes: laterChoiceField({
    label: 'Change is shown',
    options: [
      { value: 'first', label: 'Of the first metric' },
      { value: 'each', label: 'Of each metric' },
    ],
  }),
  zeroes: laterChoiceField({
    label: 'Rows without data',
    options: [
      { value: 'show', label: 'Shown' },
      { value: 'leave', label: 'Hidden, with a count in the notes' },
    ],
  }),
  falling: laterChoiceField({
    label: 'Rows that fell',
    options: [
      { value: 'show', label: 'Shown' },
      { value: 'leave', label: 'Hidden, with a count in the notes' },
    ],
  }),
  title: titleField,
};

type Ranking = BlockOf<'ranking', typeof fields>;

const ask = (block: Ranking, { period, compared, yardstick, filter }: Scope): Question => ({
  op: 'top',
  metrics: block.metrics,
  dimension: block.dimension,
  n: block.rows === 'all' ? MOST_ALL_ROWS : block.n,
  ...(block.order === 'change' && compared && { order: 'change' as const }),
  range: period,
  compared,
  filter,
  ...(!compared && yardstick && { against: yardstick }),
});

/** A row of the breakdown, with what it is. */
interface Line {
  label: string;
  link?: string | undefined;
  cells: Pair[];
  kind: 'row' | 'other' | 'total';
}

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

const isZero = ({ cells }: Line): boolean => cells.every(({ current }) => isKnown(current) && current.value === 0);

const isFalling = ({ cells: [first] }: Line): boolean =>
  first?.compared != null &&
  isKnown(first.current) &&
  isKnown(first.compared) &&
  first.current.value < first.compared.value;

/** The rows that are shown, and how many are left out for what they are. */
function shownRows(block: Ranking, rows: readonly Line[]) {
  const zeroes = block.zeroes === 'leave' ? rows.filter(isZero) : [];
  const falling = block.falling === 'leave' ? rows.filter((r) => !zeroes.includes(r) && isFalling(r)) : [];
  return {
    rows: rows.filter((r) => !zeroes.includes(r) && !falling.includes(r)),
    zeroes: zeroes.length,
    falling: falling.length,
  };
}

/** Says why the rest of a table cannot be told of a column: a service counts people for each label alone, say. */
function noteLacks(context: LayoutContext, other: readonly Pair[], metrics: readonly Metric[]): void {
  const { words } = context.format;
  metrics.forEach((metric, i) => {
    const { current } = other[i]!;
    if (!isKnown(current))
      context.note(
        fullStop(
          fill(words.labelled, {
            label: fill(words.aside, { text: context.noteLabelOf(metric.key), aside: words.other }),
            text: words.reasons[current.na],
          }),
        ),
      );
  });
}

/** Says of columns, and of what they are held against, how many of their days are known. */
function notePartial(context: LayoutContext, total: readonly Pair[], metrics: readonly Metric[]): void {
  const { format } = context;
  const say = (mark: string, metric: Metric, dates: Range, value: Value | null) => {
    if (!value || !isKnown(value) || !value.partial) return;
    context.note(mark + partlyNote(context.noteLabelOf(metric.key), format.range(dates), value.share, format));
  };
  metrics.forEach((metric, i) => {
    say(`${PARTLY} `, metric, context.period, total[i]!.current);
    if (i === 0 && context.compared) say('', metric, context.compared, total[i]!.compared);
  });
}

type Lacking = Extract<Value, { na: unknown }>['na'];

interface Told {
  table: BlockTable;
  lines: Line[];
  metrics: Metric[];
  columns: Column[];
  /** Whether a change stands beside each metric. */
  changing: boolean[];
  left: { zeroes: number; falling: number };
}

/** What is printed of a line, from left to right after its label. */
function cellsOf(
  context: LayoutContext,
  { columns, metrics }: Pick<Told, 'columns' | 'metrics'>,
  line: Line,
  changing: readonly boolean[],
): TableCell[] {
  const { palette, format } = context;
  return metrics.flatMap((metric, i) => {
    const pair = line.cells[i]!;
    const figure = { text: partlyText(columns[i]!, pair.current), fill: palette.ink };
    if (!changing[i]) return [figure];
    const change = pair.compared && changeOf(pair.current, pair.compared, metric.unit, metric.polarity);
    const tones = { better: palette.good, worse: palette.wrong };
    const fill = tones[change?.verdict as 'better' | 'worse'] ?? palette.muted;
    return [figure, { text: (change && format.change(change)) ?? '–', fill }];
  });
}

/** What the block says before it is known how wide it is. */
function toldOf(block: Ranking, context: LayoutContext): Told | { title: string; na: Lacking } {
  const { words } = context.format;
  const metrics = block.metrics.map(context.book.of);
  const head = dimensionName(block.dimension, context.format);
  const title =
    block.title.trim() ||
    titleBy(words.rankingTitle, context.labelOf(block.metrics[0]!), block.dimension, context.format);
  const answer = context.answers[keyOf(ask(block, context))];
  const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
  if ('na' in found) return { title, na: found.na };
  const { rows, ...left } = shownRows(
    block,
    found.rows.map((r) => ({
      label: context.format.valueName(block.dimension, r.label),
      link: context.linkOf(block.dimension, r.label),
      cells: r.cells,
      kind: 'row' as const,
    })),
  );
  const other = found.other ? [{ label: words.other, cells: found.other, kind: 'other' as const }] : [];
  const lines: Line[] = [...rows, ...other];
  const top = Math.max(0, ...lines.map((l) => (isKnown(l.cells[0]!.current) ? l.cells[0]!.current.value : 0)));
  const columns = metrics.map((m, i) => context.format.column(knownIn(lines, i), m.unit));
  lines.push({ label: words.all, cells: found.total, kind: 'total' });
  // Against a target only where one is set for any of the rows.
  const hasChange = (i: number) =>
    context.compared !== null || lines.some(({ cells }) => cells[i]!.compared && isKnown(cells[i]!.compared));
  const changing = metrics.map((_, i) => (i === 0 || block.changes === 'each') && hasChange(i));
  const table: BlockTable = {
    title,
    head,
    heads: metrics.flatMap(({ key }, i) => [
      { text: context.labelOf(key), mark: context.dayMark(key) },
      ...(changing[i] ? [{ text: words.change, mark: '' }] : []),
    ]),
    lines: lines.map((line): TableLine => {
      const { current } = line.cells[0]!;
      return {
        label: line.label,
        link: line.link,
        isTotal: line.kind === 'total',
        bar: line.kind !== 'total' && isKnown(current) ? current.value / (top || 1) : null,
        cells: cellsOf(context, { columns, metrics }, line, changing),
      };
    }),
  };
  return { table, lines, metrics, columns, changing, left };
}

/** What has to be said of a table's figures. */
function noteTable(context: LayoutContext, { lines, metrics, columns, changing, left }: Told): void {
  const { format } = context;
  const { words } = format;
  notePartial(context, lines.at(-1)!.cells, metrics);
  metrics.forEach((metric, i) => {
    if (changing[i]) noteCompared(context, metric.key, lines.at(-1)!.cells[i]!.compared);
  });
  const other = lines.find((l) => l.kind === 'other');
  if (other) noteLacks(context, other.cells, metrics);
  if (left.zeroes > 0) context.note(format.count(words.leftZeroes, left.zeroes));
  if (left.falling > 0) context.note(format.count(words.leftFalling, left.falling));
  if (left.falling === 0 && contradicts(lines, metrics, columns)) context.note(words.noteRounding);
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
    const told = toldOf(block, context);
    return 'na' in told ? 0 : leastOfTable(context, told.table);
  },
  lay(block, context) {
    const told = toldOf(block, context);
    if (!('na' in told)) {
      noteTable(context, told);
      noteTypical(context, block.metrics[0]!);
      return layTable(context, told.table);
    }
    return layReason(context, told.title, context.format.words.reasons[told.na]);
  },
  mail: {
    as: 'table',
    piece(block, context) {
      const told = toldOf(block, context);
      if ('na' in told) return { kind: 'reason', title: told.title, text: context.format.words.reasons[told.na] };
      noteTable(context, told);
      noteTypical(context, block.metrics[0]!);
      return mailTableOf(context, told.table);
    },
  },
});
