/** What stands in one cell of a file: text as it was written, or a number where the format knows numbers. */
export type Cell = string | number | null;

export const isBlank = (cell: Cell | undefined): boolean =>
  cell === null || cell === undefined || (typeof cell === 'string' && cell.trim() === '');

export const textOf = (cell: Cell | undefined): string =>
  cell === null || cell === undefined ? '' : String(cell).trim();
