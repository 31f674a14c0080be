import type { Range } from '../../calendar/index.ts';
import {
  type BreakdownRow,
  changeOf,
  isKnown,
  keyOf,
  type Metric,
  type Pair,
  type Question,
  type Value,
} from '../../figures/index.ts';
import { type Column, fill } from '../../words/index.ts';
import type { Laid, LayoutContext, Pen, Scope, TextStyle } from './block.ts';
import { type BlockOf, defineBlock } from './defineBlock.ts';
import { countField, dimensionField, metricsField, titleField } from './fields.ts';

const fields = {
  dimension: dimensionField(),
  metrics: metricsField({ hint: 'The first one ranks', most: 4 }),
  n: countField({ label: 'Rows before “Other”', most: 50 }),
  title: titleField,
};

type Ranking = BlockOf<'ranking', typeof fields>;

const ask = (block: Ranking, { period, compared, filter }: Scope): Question => ({
  op: 'top',
  metrics: block.metrics,
  dimension: block.dimension,
  n: block.n,
  range: period,
  compared,
  filter,
});

/** Stands after a figure that is not made from all of its days; a note says how much is known. */
const PARTLY = '†';

const ROW = 17;
const HEAD = 18;
const TITLE = 18;

interface Line {
  label: string;
  cells: Pair[];
  kind: 'row' | 'other' | 'total';
}

interface Table {
  title: string;
  lines: Line[];
  metrics: Metric[];
  /** How each metric's column is written. */
  columns: Column[];
  /** Largest current value of the ranking metric: a full bar. */
  top: number;
  hasChange: boolean;
  head: string;
}

function cellText(column: Column, value: Value): string {
  if (!isKnown(value)) return '–';
  const text = column.say(value.value);
  return value.partial ? `${text} ${PARTLY}` : text;
}

function drawLine(pen: Pen, context: LayoutContext, table: Table, line: Line, x: number, y: number): void {
  const { palette, format } = context;
  const face = line.kind === 'total' ? 'sansBold' : 'sans';
  const style: TextStyle = { face, size: 8.5, fill: palette.ink };
  const columns = columnsOf(context, table);
  const baseline = y + 11.5;
  pen.tagged('TR', null, () => {
    pen.tagged('TH', null, () => pen.text(x, baseline, context.fit(line.label, style, columns.labelWidth), style));
    table.metrics.forEach((metric, i) => {
      const pair = line.cells[i]!;
      const text = cellText(table.columns[i]!, pair.current);
      pen.tagged('TD', null, () => {
        if (i > 0) {
          pen.text(x + columns.ends[i]!, baseline, text, style, 'right');
          return;
        }
        const bar = isKnown(pair.current) && line.kind !== 'total' ? Math.max(0, pair.current.value / table.top) : 0;
        const width = Math.min(1, bar) * columns.barWidth;
        if (width > 0.2) pen.rect(x + columns.barStart, y + 4.5, width, 8.5, palette.mainTint);
        pen.text(x + columns.ends[0]!, baseline, text, style, 'right');
      });
      if (i !== 0 || !table.hasChange) return;
      const change = pair.compared && changeOf(pair.current, pair.compared, metric.unit, metric.polarity);
      const shown = (change && format.change(change)) ?? '–';
      const tone =
        change?.verdict === 'better' ? palette.good : change?.verdict === 'worse' ? palette.wrong : palette.muted;
      pen.tagged('TD', null, () => pen.text(x + columns.change, baseline, shown, { ...style, fill: tone }, 'right'));
    });
  });
  if (line.kind !== 'total') pen.line(x, y + ROW, x + context.width, y + ROW, palette.rule, 0.5);
}

/** Where columns stand, from the block's width: label, bar with its figure, change, further figures. */
function columnsOf(context: LayoutContext, table: Table) {
  const further = table.metrics.length - 1;
  const furtherWidth = Math.min(78, context.width * 0.16);
  const changeWidth = table.hasChange ? 56 : 0;
  const firstEnd = context.width - further * furtherWidth - changeWidth;
  const labelWidth = Math.min(context.width * 0.32, 150);
  const barStart = labelWidth + 8;
  return {
    labelWidth,
    barStart,
    barWidth: Math.max(0, firstEnd - barStart - 56),
    ends: table.metrics.map((_, i) => (i === 0 ? firstEnd : firstEnd + changeWidth + i * furtherWidth)),
    change: firstEnd + changeWidth,
  };
}

function drawHead(pen: Pen, context: LayoutContext, table: Table, x: number, y: number): void {
  const { palette, format } = context;
  const style: TextStyle = { face: 'sansBold', size: 8, fill: palette.muted };
  const columns = columnsOf(context, table);
  pen.tagged('TR', null, () => {
    const cell = (at: number, text: string, align: 'left' | 'right', width: number, after = '') =>
      pen.tagged('TH', null, () => pen.text(x + at, y + 10, context.fit(text, style, width, after), style, align));
    cell(0, table.head, 'left', columns.labelWidth);
    table.metrics.forEach((metric, i) => {
      const width = i === 0 ? columns.ends[0]! - columns.barStart : context.width * 0.16 - 6;
      cell(columns.ends[i]!, context.labelOf(metric.key), 'right', width, context.oddMark(metric.key));
      if (i === 0 && table.hasChange) cell(columns.change, format.words.change, 'right', 54);
    });
  });
  pen.line(x, y + HEAD - 2, x + context.width, y + HEAD - 2, palette.ink, 0.8);
}

function layTable(context: LayoutContext, table: Table): Laid {
  const { palette } = context;
  const titleStyle: TextStyle = { face: 'sansBold', size: 9.5, fill: palette.ink };
  return {
    height: TITLE + HEAD + table.lines.length * ROW,
    draw(pen, x, y) {
      pen.tagged('H2', null, () =>
        pen.text(x, y + 10, context.fit(table.title, titleStyle, context.width), titleStyle),
      );
      pen.tagged('Table', null, () => {
        drawHead(pen, context, table, x, y + TITLE);
        table.lines.forEach((line, i) => {
          drawLine(pen, context, table, line, x, y + TITLE + HEAD + i * ROW);
        });
      });
    },
    split(room) {
      // The head is repeated; no row is left alone on either side.
      const n = Math.min(Math.floor((room - TITLE - HEAD) / ROW), table.lines.length - 2);
      if (n < 2) return null;
      return [
        layTable(context, { ...table, lines: table.lines.slice(0, n) }),
        layTable(context, { ...table, lines: table.lines.slice(n) }),
      ];
    },
  };
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

/** A table of the largest values of a dimension, with the rest as one row and a total. */
export const ranking = defineBlock({
  kind: 'ranking',
  fields,
  make: ({ metric, dimension }) => ({ dimension, metrics: [metric], n: 5, title: '' }),
  about: 'dimension',
  questions: (block, scope) => [ask(block, scope)],
  lay(block, context) {
    const { words } = context.format;
    const metrics = block.metrics.map(context.book.of);
    const dimension = words.dimensions[block.dimension] ?? block.dimension;
    const metricLabel = context.labelOf(block.metrics[0]!);
    const title =
      block.title.trim() ||
      fill(words.rankingTitle, {
        metric: metricLabel,
        dimension: words.smallNouns ? dimension.toLowerCase() : dimension,
      });
    const answer = context.answers[keyOf(ask(block, context))];
    const found = answer?.op === 'top' ? answer.breakdown : ({ na: 'no-data' } as const);
    if ('na' in found) {
      const style: TextStyle = { face: 'sans', size: 9, fill: context.palette.muted };
      return {
        height: TITLE + 16,
        draw(pen, x, y) {
          pen.tagged('H2', null, () =>
            pen.text(x, y + 10, title, { face: 'sansBold', size: 9.5, fill: context.palette.ink }),
          );
          pen.tagged('P', null, () => pen.text(x, y + TITLE + 10, words.reasons[found.na], style));
        },
      };
    }
    notePartial(context, found.total, metrics);
    const row = (r: BreakdownRow): Line => ({ label: r.label, cells: r.cells, kind: 'row' });
    const lines: Line[] = found.rows.map(row);
    if (found.other) {
      lines.push({ label: words.other, cells: found.other, kind: 'other' });
      noteLacks(context, found.other, metrics);
    }
    lines.push({ label: words.all, cells: found.total, kind: 'total' });
    const columns = metrics.map((m, i) => context.format.column(knownIn(lines, i), m.unit));
    if (contradicts(lines, metrics, columns)) context.note(words.noteRounding);
    const top = Math.max(
      ...lines.slice(0, -1).map((l) => (isKnown(l.cells[0]!.current) ? l.cells[0]!.current.value : 0)),
    );
    return layTable(context, {
      title,
      lines,
      metrics,
      columns,
      top: top > 0 ? top : 1,
      hasChange: context.compared !== null,
      head: dimension,
    });
  },
});
