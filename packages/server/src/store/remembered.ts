import { LRUCache } from 'lru-cache';
import { frozen } from './parsed.ts';
import type { Tables } from './schema.ts';
import { writesOf } from './sqlite.ts';
import type { Store } from './store.ts';
import type { Writes } from './writes.ts';

interface Known {
  mark: number;
  value: unknown;
}

/** Of an agency of a thousand clients, what its mails are written from. */
const MOST = 6_000;
const kept = new WeakMap<Writes, LRUCache<string, Known>>();

/**
 * What is read over and over while mails go out, and seldom written: read once until one of its tables is written to, here or by
 * another process. A transaction sees what it wrote itself, and nobody else does before it has ended.
 * @param tables all that `read` reads
 * @param key tells this from all else that is read of any table
 * @returns a value that nobody can change, since others have it, too
 */
export async function remembered<T>(
  db: Store,
  tables: readonly (keyof Tables)[],
  key: string,
  read: () => Promise<T>,
): Promise<T> {
  const writes = writesOf(db);
  const mark = writes.markOf(tables);
  if (mark === null) return read();
  let known = kept.get(writes);
  if (!known) {
    known = new LRUCache({ max: MOST });
    kept.set(writes, known);
  }
  const before = known.get(key);
  if (before?.mark === mark) return before.value as T;
  const value = frozen(await read());
  known.set(key, { mark, value });
  return value;
}
