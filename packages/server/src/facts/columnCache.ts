import type { Columns } from '@chronicon/core/figures';
import { type Kysely, sql } from 'kysely';
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
  const kept = new Map<string, { columns: Columns; bytes: number }>();
  let bytes = 0;
  let version = -1;
  const drop = (key: string) => {
    bytes -= kept.get(key)?.bytes ?? 0;
    kept.delete(key);
  };
  return {
    async through(db, key, read) {
      const now = (await sql<{ data_version: number }>`pragma data_version`.execute(db)).rows[0]!.data_version;
      if (now !== version) {
        kept.clear();
        bytes = 0;
        version = now;
      }
      const found = kept.get(key);
      if (found) {
        // To the end: the first one is dropped first.
        kept.delete(key);
        kept.set(key, found);
        return found.columns;
      }
      const columns = await read();
      const size = bytesOf(columns);
      if (size > most) return columns;
      kept.set(key, { columns, bytes: size });
      bytes += size;
      for (const oldest of kept.keys()) {
        if (bytes <= most) break;
        drop(oldest);
      }
      return columns;
    },
  };
}
