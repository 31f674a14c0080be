import type { Kysely } from 'kysely';
import { LRUCache } from 'lru-cache';
import { frozen } from './parsed.ts';
import { writesOf } from './sqlite.ts';
import type { Writes } from './writes.ts';

interface Known {
  mark: number;
  value: unknown;
}

/** Of some hundred clients, what their mails are written from. */
const MOST = 1_000;
const kept = new WeakMap<Writes, LRUCache<string, Known>>();

/**
 * What is read over and over while mails go out, and seldom written: read once until one of its tables is written to, here or by
 * another process. A transaction sees what it wrote itself, and nobody else does before it has ended.
 * @param tables all that `read` reads
 * @param key tells this from all else that is read of any table
 * @returns a value that nobody can change, since others have it, too
 */
export async function cached<T, DB>(
  db: Kysely<DB>,
  tables: readonly (keyof DB & string)[],
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
