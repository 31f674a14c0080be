export { breakPages, type FlowItem, GAP_SHRINK } from './breakPages.ts';
export { type ColumnWish, shareColumns } from './shareColumns.ts';
export { type Grid, linesOfRow, type Place, shareRow, wishedWidths } from './shareRow.ts';
