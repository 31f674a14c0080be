import { tallRows, type WideTable } from '@chronicon/core/feeds';
import type { RawRow } from './rows.ts';

/**
 * The rows of one day each that a row of a table with a column for each day comes to, each with the number of its row; the
 * row itself where it cannot be read.
 * @param isSheet whether empty cells at the end of a row are left out, as sheets do
 */
export function rowsOfDays(wide: WideTable, row: RawRow, isSheet: boolean): RawRow[] {
  if (row.fault !== null) return [row];
  const { number, cells, currencies } = row;
  if (!isSheet && cells.length !== wide.width) {
    return [{ number, cells, fault: `has ${cells.length} cells; the heading has ${wide.width}` }];
  }
  return tallRows(wide, cells).map(({ at, ...own }) => {
    const currency = currencies?.[at.from];
    return { number, ...own, ...(currency !== undefined && { currencies: { [at.to]: currency } }) };
  });
}
