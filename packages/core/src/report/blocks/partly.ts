import { isKnown, type Value } from '../../figures/index.ts';
import type { Column } from '../../words/index.ts';

/** Stands after a figure that is not made from all of its days; a note says how much is known (SEMANTICS §4). */
export const PARTLY = '†';

/** A value as a column writes it, with its mark where it is partly known. */
export function partlyText(column: Pick<Column, 'say'>, value: Value): string {
  if (!isKnown(value)) return '–';
  const text = column.say(value.value);
  return value.partial ? `${text} ${PARTLY}` : text;
}
