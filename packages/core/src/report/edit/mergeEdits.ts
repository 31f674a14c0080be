import type { Edit } from './edit.ts';

const keysOf = (set: Record<string, unknown>): string => Object.keys(set).sort().join(' ');

/** Of the report as a whole. */
const WHOLE: readonly Edit['op'][] = [
  'title',
  'period',
  'comparison',
  'filter',
  'assumptions',
  'attachFigures',
  'contents',
];

/** True where the second edit takes the place of the first: the same choice once more, as a hand types. */
export function replaces(first: Edit | undefined, second: Edit): boolean {
  if (first?.op !== second.op) return false;
  if (WHOLE.includes(second.op)) return true;
  if (second.op === 'paper') return (first as typeof second).page === second.page;
  if (second.op === 'namePage' || second.op === 'dropPage') return (first as typeof second).page === second.page;
  if (second.op !== 'setBlock') return false;
  const { block, set } = first as typeof second;
  return block === second.block && keysOf(set) === keysOf(second.set);
}

/** The edits with one more at their end, in place of the last where it is the same choice once more. */
export const withEdit = (edits: readonly Edit[], edit: Edit): Edit[] =>
  replaces(edits.at(-1), edit) ? [...edits.slice(0, -1), edit] : [...edits, edit];
