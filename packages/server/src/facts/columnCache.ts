import type { Columns } from '@chronicon/core/figures';
import { type Kysely, sql } from 'kysely';
import { LRUCache } from 'lru-cache';
import type { FactTables } from './schema.ts';

/** Columns read lately, for a connection that only reads. */
export interface ColumnCache {
  /** Columns under a key, or what `read` makes; nothing is kept beyond a change of the database. */
  through(db: Kysely<FactTables>, key: string, read: () => Promise<Columns>): Promise<Columns>;
}

const bytesOf = (c: Columns): number =>
  c.days.byteLength +
  Object.values(c.dims).reduce((n, d) => n + d.codes.byteLength, 0) +
  Object.values(c.measures).reduce((n, m) => n + m.byteLength, 0);

/**
 * Keeps the columns used last, up to `most` bytes. Inside a read transaction SQLite's data version belongs to what the
 * transaction sees, so that a report never mixes what was read before a write with what was read after it.
 */
export function createColumnCache(most: number): ColumnCache {
  const kept = new LRUCache<string, Columns>({ maxSize: most, sizeCalculation: (c) => Math.max(1, bytesOf(c)) });
  let version = -1;
  return {
    async through(db, key, read) {
      const now = (await sql<{ data_version: number }>`pragma data_version`.execute(db)).rows[0]!.data_version;
      if (now !== version) {
        kept.clear();
        version = now;
      }
      const found = kept.get(key);
      if (found) return found;
      const columns = await read();
      kept.set(key, columns);
      return columns;
    },
  };
}
