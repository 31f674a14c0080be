import type { Answers } from '@chronicon/core/figures';
import { metricBook } from '@chronicon/core/figures';
import { type DrawOrder, type FigureRow, figureRows, type Scene } from '@chronicon/core/page';
import { fileNameOf } from '@chronicon/core/report';
import { formatterOf, SHEET_COLUMNS, type SheetColumn, withOwnNames } from '@chronicon/core/words';
import { csvOf } from './tables/csv.ts';
import { type Cell, textCell } from './tables/table.ts';

const DATES: readonly SheetColumn[] = ['from', 'to', 'comparedFrom', 'comparedTo'];

function cellOf(row: FigureRow, column: SheetColumn): Cell {
  const value = row[column];
  if (value === null || value === '') return { kind: 'empty' };
  if (typeof value === 'number') return { kind: 'number', value, unit: 'decimal' };
  return DATES.includes(column) ? { kind: 'date', date: value } : textCell(value);
}

/** The figures of a report's pages as CSV, in its own language and as its region writes numbers; none where it asks for none. */
export function attachedFigures(order: DrawOrder, answers: Answers): Scene['attached'] {
  if (!order.document.attachFigures) return undefined;
  const format = withOwnNames(formatterOf(order.language, order.currency), order.metrics.names);
  const { words } = format;
  const rows = figureRows({
    document: order.document,
    dates: order,
    answers,
    book: metricBook(order.metrics),
    format,
  });
  const isComma = format.decimal(1.5).includes(',');
  const table = {
    title: order.title,
    author: order.agencyName,
    about: [],
    head: SHEET_COLUMNS.map((c) => words.sheet[c]),
    rows: rows.map((row) => SHEET_COLUMNS.map((c) => cellOf(row, c))),
    currency: order.currency,
  };
  const name = fileNameOf([order.clientName, order.title, format.dates(order.period)], 'csv');
  return [{ name, about: order.title, text: csvOf(table, isComma ? 'comma' : 'point').toString('utf8') }];
}
