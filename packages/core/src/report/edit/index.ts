export { type Applied, applyEdit, applyEdits } from './applyEdit.ts';
export type { Draft, Edit, ReportRow } from './edit.ts';
export { editsBetween } from './editsBetween.ts';
export { editWords } from './editWords.ts';
export { replaces, withEdit } from './mergeEdits.ts';
export { blockIn } from './places.ts';
