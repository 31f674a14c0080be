import type { MetricUnit } from '@chronicon/core/figures';
import type { Cell, Table } from './table.ts';

const DAY_SECONDS = 86_400;

/** Number formats of the open workbook format (ECMA-376 part 1, §18.8.31). */
function formatOf(unit: MetricUnit, currency: string): string {
  switch (unit) {
    case 'count':
      return '#,##0';
    case 'money':
      return `#,##0.00 [$${currency}]`;
    case 'percent':
      return '0.0%';
    case 'duration':
      return '[h]:mm:ss';
    case 'decimal':
      return '0.00';
  }
}

/** A civil date as the workbook keeps it: midnight, in no zone. */
const dateOf = (cell: Extract<Cell, { kind: 'date' }>): Date => new Date(`${cell.date}T00:00:00Z`);

/**
 * A table as a workbook: numbers as numbers, dates as dates, durations as parts of a day; every text is a text, never
 * a formula. `created` goes into the file, so that the same table gives the same workbook.
 */
export async function workbookOf(table: Table, created: string): Promise<Buffer> {
  // Large, and wanted seldom: it comes when it is asked for.
  const { default: Excel } = await import('exceljs');
  const book = new Excel.Workbook();
  book.created = new Date(created);
  book.modified = new Date(created);
  book.title = table.title;
  book.creator = table.author;
  book.lastModifiedBy = table.author;
  book.company = table.author;
  const sheet = book.addWorksheet('Figures', { views: [{ state: 'frozen', ySplit: table.about.length + 2 }] });
  sheet.addRow([table.title]).font = { bold: true, size: 13 };
  for (const line of table.about) sheet.addRow([line]).font = { color: { argb: 'FF5B6570' } };
  const head = sheet.addRow(table.head);
  head.font = { bold: true };
  head.alignment = { wrapText: true, vertical: 'bottom' };
  for (const cells of table.rows) {
    const row = sheet.addRow([]);
    cells.forEach((cell, i) => {
      const at = row.getCell(i + 1);
      if (cell.kind === 'text') at.value = cell.text;
      else if (cell.kind === 'date') {
        at.value = dateOf(cell);
        at.numFmt = 'yyyy-mm-dd';
      } else if (cell.kind === 'number') {
        at.value = cell.unit === 'duration' ? cell.value / DAY_SECONDS : cell.value;
        at.numFmt = formatOf(cell.unit, table.currency);
      }
    });
  }
  sheet.columns.forEach((column, i) => {
    column.width = i === 0 ? 26 : 16;
  });
  return Buffer.from(await book.xlsx.writeBuffer());
}
