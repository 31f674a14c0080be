import { isKnown, rangeKey } from '../figures/index.ts';
import type { PageInput } from './composeInput.ts';

/** Whether nothing at all was measured yet in the range that a page is compared with: it is said once, for all figures. */
export function nothingCompared({ compared, answers }: Pick<PageInput, 'compared' | 'answers'>): boolean {
  if (!compared) return false;
  const before = Object.entries(answers).flatMap(([key, a]) =>
    a.op === 'total' && key.includes(rangeKey(compared)) ? [a.value] : [],
  );
  return before.length > 0 && before.every((v) => !isKnown(v) && v.na === 'before-start');
}
