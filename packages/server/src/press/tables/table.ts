import type { CivilDate } from '@chronicon/core/calendar';
import type { Figures } from '@chronicon/core/contract';
import type { MetricUnit, Pair, Reason, Value } from '@chronicon/core/figures';
import { englishFor } from '../../figures/english.ts';
import type { FiguresView } from '../../figures/reply.ts';

/** One cell of an exported table. Figures stay numbers, dates stay dates; only words are text. */
export type Cell =
  | { kind: 'text'; text: string }
  | { kind: 'date'; date: CivilDate }
  | { kind: 'number'; value: number; unit: MetricUnit }
  | { kind: 'empty' };

export interface Table {
  title: string;
  /** Who made it: the agency. */
  author: string;
  /** Sentences over the table: what it covers, what it is held against. */
  about: string[];
  head: string[];
  rows: Cell[][];
  currency: string;
}

/** Text that a spreadsheet program would take for a formula is made plain with an apostrophe before it. */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

export const textCell = (text: string): Cell => ({ kind: 'text', text: harmless(text) });

const valueCell = (value: Value | null, unit: MetricUnit, reasons: Record<Reason, string>): Cell => {
  if (value === null) return { kind: 'empty' };
  return 'na' in value ? textCell(reasons[value.na]) : { kind: 'number', value: value.value, unit };
};

/** A view of Figures, to be had as a table. */
export interface TableOrder {
  view: FiguresView;
  names: TableNames;
  /** One of the formats by its name. */
  as: string;
  created: string;
}

interface TableNames {
  agency: string;
  client: string;
  /** What the view is narrowed to, in words. */
  filter: string[];
}

/** The figures of one view as a table, every figure unrounded. */
export function tableOf(figures: Figures, names: TableNames & { currency: string }): Table {
  const { reasons } = englishFor(names).words;
  const { metrics, series, breakdown } = figures;
  const against = figures.compared?.label ?? figures.against;
  const cells = (pairs: readonly Pair[]): Cell[] =>
    pairs.flatMap((p, i) => {
      const current = valueCell(p.current, metrics[i]!.unit, reasons);
      return against === null ? [current] : [current, valueCell(p.compared, metrics[i]!.unit, reasons)];
    });
  const named = metrics.flatMap((m) => (against === null ? [m.label] : [m.label, `${m.label}, ${against}`]));
  const rows: Cell[][] = [];
  if (series) {
    const { times, comparedTimes } = series;
    times.forEach((time, i) => {
      const before = comparedTimes?.[i];
      rows.push([
        { kind: 'date', date: time.from },
        ...(series.step === 'day' ? [] : [{ kind: 'date', date: time.to } as const]),
        ...(comparedTimes
          ? [before ? ({ kind: 'date', date: before.from } as const) : ({ kind: 'empty' } as const)]
          : []),
        ...series.lines.flatMap((l, m) => {
          const current = valueCell(l.current[i] ?? null, metrics[m]!.unit, reasons);
          return l.compared ? [current, valueCell(l.compared[i] ?? null, metrics[m]!.unit, reasons)] : [current];
        }),
      ]);
    });
  }
  for (const row of breakdown?.rows ?? []) rows.push([textCell(row.label), ...cells(row.cells)]);
  if (breakdown?.other) rows.push([textCell('Other'), ...cells(breakdown.other)]);
  if (breakdown) rows.push([textCell('All'), ...cells(figures.totals)]);
  const byTime = series && [
    series.step === 'day' ? 'Day' : 'First day',
    ...(series.step === 'day' ? [] : ['Last day']),
    ...(series.comparedTimes ? ['Compared from'] : []),
    ...series.lines.flatMap((l, m) =>
      l.compared ? [metrics[m]!.label, `${metrics[m]!.label}, compared`] : [metrics[m]!.label],
    ),
  ];
  return {
    author: names.agency,
    title: `${names.client}: ${metrics.map((m) => m.label).join(', ')}`,
    about: [
      figures.period.dates,
      ...(figures.compared ? [`compared with ${figures.compared.dates}`] : []),
      ...names.filter,
    ].map(harmless),
    head: (byTime ?? [breakdown?.dimension.label ?? '', ...named]).map(harmless),
    rows,
    currency: names.currency,
  };
}
