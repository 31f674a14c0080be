import Papa from 'papaparse';
import type { Cell, Table } from './table.ts';

/** How a region writes numbers: it decides what its spreadsheet programs read as one. */
export type NumberStyle = 'point' | 'comma';

/** Digits beyond these are noise of binary fractions. */
const plain = (n: number): string => String(Number(n.toPrecision(15)));

function textOf(cell: Cell, style: NumberStyle): string {
  switch (cell.kind) {
    case 'text':
      return cell.text;
    case 'date':
      return cell.date;
    case 'empty':
      return '';
    case 'number': {
      const text = plain(cell.value);
      return style === 'comma' ? text.replace('.', ',') : text;
    }
  }
}

/**
 * A table as CSV (RFC 4180) in UTF-8 with a byte order mark, so that spreadsheet programs know the encoding. Numbers
 * carry no thousands signs or units; percent values are fractions, durations seconds. With a decimal comma, fields are
 * parted by semicolons, as such regions expect.
 */
export function csvOf(table: Table, style: NumberStyle): Buffer {
  const rows = table.rows.map((row) => row.map((cell) => textOf(cell, style)));
  const csv = Papa.unparse([table.head, ...rows], { delimiter: style === 'comma' ? ';' : ',', newline: '\r\n' });
  return Buffer.from(`\ufeff${csv}\r\n`, 'utf8');
}
