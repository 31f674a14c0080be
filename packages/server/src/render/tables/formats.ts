import { csvOf } from './csv.ts';
import type { Table } from './table.ts';
import { workbookOf } from './workbook.ts';

/** One form in which a table can be had. */
export interface TableFormat {
  extension: string;
  type: string;
  write(table: Table, created: string): Promise<Buffer> | Buffer;
}

/** Every form by the name that stands in the address. */
export const TABLE_FORMATS: Record<string, TableFormat> = {
  csv: { extension: 'csv', type: 'text/csv; charset=utf-8', write: (t) => csvOf(t, 'point') },
  'csv-comma': { extension: 'csv', type: 'text/csv; charset=utf-8', write: (t) => csvOf(t, 'comma') },
  xlsx: {
    extension: 'xlsx',
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    write: workbookOf,
  },
};
