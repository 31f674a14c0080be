import type { Answers } from '@chronicon/core/figures';
import { metricBook } from '@chronicon/core/figures';
import {
  COMPOSE_VERSION,
  type DrawOrder,
  type FigureRow,
  type Frozen,
  figureRows,
  type Scene,
} from '@chronicon/core/page';
import { type Format, fileNameOf } from '@chronicon/core/report';
import { formatterOf, SHEET_COLUMNS, type SheetColumn, withOwnNames } from '@chronicon/core/words';
import { csvOf, type NumberStyle } from './tables/csv.ts';
import { type Cell, type Table, textCell } from './tables/table.ts';
import { workbookOf } from './tables/workbook.ts';

const DATES: readonly SheetColumn[] = ['from', 'to', 'comparedFrom', 'comparedTo'];

function cellOf(row: FigureRow, column: SheetColumn): Cell {
  const value = row[column];
  if (value === null || value === '') return { kind: 'empty' };
  if (typeof value === 'number') return { kind: 'number', value, unit: 'decimal' };
  return DATES.includes(column) ? { kind: 'date', date: value } : textCell(value);
}

/** Layouts before this one had one column for changes: of rates in points, of all others in percent. */
const POINTS_APART_FROM = 8;

/** A row as layouts before had it. */
const asBefore = (row: FigureRow): FigureRow => ({ ...row, change: row.points ?? row.change });

function tableOf(
  order: DrawOrder,
  answers: Answers,
  version: number = COMPOSE_VERSION,
): { table: Table; style: NumberStyle } {
  const isBefore = version < POINTS_APART_FROM;
  const columns = isBefore ? SHEET_COLUMNS.filter((c) => c !== 'points') : SHEET_COLUMNS;
  const format = withOwnNames(formatterOf(order.language, order.currency), order.metrics.names);
  const rows = figureRows({
    document: order.document,
    dates: order,
    answers,
    book: metricBook(order.metrics),
    format,
  });
  const table = {
    title: order.title,
    author: order.agencyName,
    about: [],
    head: columns.map((c) => format.words.sheet[c]),
    rows: rows.map(isBefore ? asBefore : (row) => row).map((row) => columns.map((c) => cellOf(row, c))),
    currency: order.currency,
  };
  return { table, style: format.decimal(1.5).includes(',') ? 'comma' : 'point' };
}

/** The figures of a report's pages as CSV, in its own language and as its region writes numbers; none where it asks for none. */
export function attachedFigures(order: DrawOrder, answers: Answers): Scene['attached'] {
  if (!order.document.attachFigures) return undefined;
  const { dates } = formatterOf(order.language, order.currency);
  const { table, style } = tableOf(order, answers);
  const name = fileNameOf([order.clientName, order.title, dates(order.period)], 'csv');
  return [{ name, about: order.title, text: csvOf(table, style).toString('utf8') }];
}

/**
 * The figures of an edition's pages as a file of their own: the same bytes each time, whatever columns came later.
 * @param created when it is said to have been made, UTC ISO text
 */
export async function figuresFile(
  { order, answers, composeVersion }: Frozen,
  format: Format,
  created: string,
): Promise<Buffer> {
  const { table, style } = tableOf(order, answers, composeVersion);
  return format === 'csv' ? csvOf(table, style) : workbookOf(table, created);
}
