import type { StoredImport } from '../../store/imports.ts';

/**
 * Which import of a feed can be taken back: the one that was done last, whenever its file was brought. None while
 * another is under way, which builds on it.
 */
export function undoableOf(imports: readonly StoredImport[], feedId: string): string | null {
  const own = imports.filter((i) => i.feedId === feedId);
  if (own.some((i) => i.state === 'importing')) return null;
  const counted = (i: StoredImport) => i.doneAt ?? i.at;
  const done = own.filter((i) => i.state === 'done');
  return done.reduce<StoredImport | null>((a, b) => (a && counted(a) >= counted(b) ? a : b), null)?.id ?? null;
}

/** The instant at which an import counts: `now`, or just after the last import of a feed that was done: their order outlives a clock that was put back. */
export function doneAfter(imports: readonly StoredImport[], feedId: string, now: string): string {
  const done = imports
    .filter((i) => i.feedId === feedId && i.state === 'done')
    .map((i) => Date.parse(i.doneAt ?? i.at));
  return new Date(Math.max(Date.parse(now), ...done.map((t) => t + 1))).toISOString();
}
