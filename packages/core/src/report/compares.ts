import { keyOf } from '../figures/index.ts';
import type { Scope } from './blocks/block.ts';
import { type Block, blockKind } from './blocks/registry.ts';

/** Any dates: what is asked of them is looked at, not what they bring. */
const ALONE: Scope = {
  period: { from: '2026-01-05', to: '2026-01-06' },
  compared: null,
  at: '2026-01-07',
  weekStart: 1,
  written: '',
  filter: {},
};
const HELD: Scope = { ...ALONE, compared: { from: '2026-01-03', to: '2026-01-04' } };

/** Whether a block holds what it shows against other dates: then what it asks hangs on them. */
export function compares(block: Block): boolean {
  const asked = (scope: Scope) => new Set(blockKind(block).questions(block, scope).map(keyOf));
  const [alone, held] = [asked(ALONE), asked(HELD)];
  return alone.size !== held.size || [...held].some((key) => !alone.has(key));
}
