export { type ColumnWish, shareColumns } from './shareColumns.ts';
export { type Place, shareRow } from './shareRow.ts';
