export { type Applied, applyEdit, applyEdits, blockIn } from './applyEdit.ts';
export type { Draft, Edit, ReportRow } from './edit.ts';
export { replaces, withEdit } from './mergeEdits.ts';
