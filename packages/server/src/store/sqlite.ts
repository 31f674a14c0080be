import { closeSync, fdatasync, openSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import Database from 'better-sqlite3';

import {
  type CompiledQuery,
  type DatabaseConnection,
  type Dialect,
  type Driver,
  Kysely,
  type QueryResult,
  SqliteAdapter,
  SqliteIntrospector,
  SqliteQueryCompiler,
} from 'kysely';
import { countStatement } from '../platform/statements.ts';
import { FOLDED, folded } from './like.ts';
import { Writes } from './writes.ts';

/**
 * SQLite behind Kysely, so that nobody waits for another's transaction who only wants to read. All words that only
 * SQLite has stand here, in schema steps, and in identity.ts.
 */

/** How long a write waits for another process to let go of the file, in milliseconds; the thread goes on meanwhile. */
const LONGEST_WAIT = 30_000;
const SHORTEST_PAUSE = 4;
const LONGEST_PAUSE = 60;
const MOST_STATEMENTS = 400;
/** Of pages that a connection that writes keeps, in kilobytes. */
const CACHE_KB = 16_000;

const isBusy = (error: unknown): boolean => String((error as { code?: string }).code).startsWith('SQLITE_BUSY');

/** Tries again, with pauses in which other work goes on, while another process holds the file. */
async function whenFree<T>(work: () => T): Promise<T> {
  for (let waited = 0, pause = SHORTEST_PAUSE; ; pause = Math.min(LONGEST_PAUSE, pause * 1.5)) {
    try {
      return work();
    } catch (error) {
      if (!isBusy(error) || waited > LONGEST_WAIT) throw error;
    }
    // Unlike pauses, so that two who wait do not go on meeting.
    const now = pause * (0.5 + Math.random());
    await sleep(now);
    waited += now;
  }
}

/** One open file with its compiled statements: compiling costs more than most of them take. */
class Handle {
  private readonly statements = new Map<string, Database.Statement>();
  constructor(readonly database: Database.Database) {
    database.function(FOLDED, { deterministic: true }, (text) => (typeof text === 'string' ? folded(text) : text));
  }

  run<R>({ sql, parameters }: CompiledQuery): QueryResult<R> {
    countStatement();
    let statement = this.statements.get(sql);
    if (!statement) {
      statement = this.database.prepare(sql);
      if (this.statements.size >= MOST_STATEMENTS) this.statements.clear();
      this.statements.set(sql, statement);
    }
    if (statement.reader) return { rows: statement.all(...parameters) as R[] };
    const { changes, lastInsertRowid } = statement.run(...parameters);
    return { numAffectedRows: BigInt(changes), insertId: BigInt(lastInsertRowid), rows: [] };
  }
}

/** One after the other. */
class Turns {
  private last: Promise<void> = Promise.resolve();
  async take(): Promise<() => void> {
    const before = this.last;
    let free = () => {};
    this.last = new Promise<void>((resolve) => {
      free = resolve;
    });
    await before;
    return free;
  }
}

const synced = promisify(fdatasync);

/**
 * Has what was committed on the disk before it counts, as `synchronous = FULL` does, without holding up the thread: all that
 * commit while one write to the disk is under way wait for the next one together. SQLite itself syncs the log before it is
 * copied back and before it begins anew (`synchronous = NORMAL`).
 */
class Disk {
  private file: number | null = null;
  private running: Promise<void> = Promise.resolve();
  private next: Promise<void> | null = null;
  constructor(private readonly log: string) {}

  /** Resolves once all that is in the log now is on the disk. @throws Error of the system */
  reached(): Promise<void> {
    this.next ??= this.running
      .catch(() => undefined)
      .then(() => {
        this.next = null;
        this.file ??= openSync(this.log, 'r+');
        this.running = synced(this.file);
        return this.running;
      });
    return this.next;
  }

  /** Closes the log, once nobody waits for it. */
  async close(): Promise<void> {
    await this.running.catch(() => undefined);
    if (this.file !== null) closeSync(this.file);
    this.file = null;
  }
}

class Connection implements DatabaseConnection {
  /** Lets the next one write; null outside a transaction. */
  release: (() => void) | null = null;
  constructor(private readonly driver: SharedDriver) {}

  async executeQuery<R>(query: CompiledQuery): Promise<QueryResult<R>> {
    const { reader, writer, turns, writes } = this.driver;
    const isRead = query.query.kind === 'SelectQueryNode';
    if (this.release) {
      if (!isRead) writes.wrote(query, true);
      return writer.run(query);
    }
    // The connection that writes has at hand what it wrote; the other one has to read it from the file after each commit.
    if (reader && isRead) {
      return whenFree(() => (writer.database.inTransaction ? reader : writer).run(query));
    }
    const release = await turns.take();
    let result: QueryResult<R>;
    try {
      result = await whenFree(() => {
        const done = writer.run<R>(query);
        // At once: nobody is to take what they remember for what is there now.
        if (!isRead) writes.wrote(query, false);
        return done;
      });
    } finally {
      release();
    }
    await this.driver.disk?.reached();
    return result;
  }

  // biome-ignore lint/correctness/useYield: nothing streams, and the interface asks for a generator
  async *streamQuery<R>(): AsyncIterableIterator<QueryResult<R>> {
    throw new Error('rows are not streamed here');
  }
}

class SharedDriver implements Driver {
  readonly turns = new Turns();
  constructor(
    readonly writer: Handle,
    /** Reads what is committed, whoever is writing; null where nobody writes. */
    readonly reader: Handle | null,
    /** Where nobody writes, nothing has to reach it. */
    readonly disk: Disk | null,
    readonly writes: Writes,
  ) {}

  async init(): Promise<void> {}
  async acquireConnection(): Promise<Connection> {
    return new Connection(this);
  }
  async releaseConnection(): Promise<void> {}

  /** Takes the write lock when a transaction begins, so that none fails half-way for having read first. */
  async beginTransaction(connection: Connection): Promise<void> {
    const release = await this.turns.take();
    try {
      await whenFree(() => this.writer.database.exec(this.reader ? 'begin immediate' : 'begin'));
      connection.release = release;
    } catch (error) {
      release();
      throw error;
    }
  }

  async commitTransaction(connection: Connection): Promise<void> {
    this.writer.database.exec('commit');
    this.leave(connection);
    await this.disk?.reached();
  }

  async rollbackTransaction(connection: Connection): Promise<void> {
    // A fault of the disk may have ended it already; what goes on now is somebody else's.
    if (connection.release && this.writer.database.inTransaction) this.writer.database.exec('rollback');
    this.leave(connection);
  }

  private leave(connection: Connection): void {
    this.writes.ended();
    connection.release?.();
    connection.release = null;
  }

  async destroy(): Promise<void> {
    await this.disk?.close();
    this.reader?.database.close();
    this.writer.database.close();
  }
}

class SharedAdapter extends SqliteAdapter {
  constructor(readonly writes: Writes) {
    super();
  }

  /** SQLite rolls back tables as it does rows: steps of a database are taken whole or not at all. */
  override get supportsTransactionalDdl(): boolean {
    return true;
  }
}

/** Of an opened database, or a transaction of it, what was written. */
export const writesOf = <T>(db: Kysely<T>): Writes => (db.getExecutor().adapter as SharedAdapter).writes;

class SharedDialect implements Dialect {
  constructor(
    private readonly open: () => Driver,
    private readonly writes: Writes,
  ) {}
  createDriver(): Driver {
    return this.open();
  }
  createQueryCompiler() {
    return new SqliteQueryCompiler();
  }
  createAdapter() {
    return new SharedAdapter(this.writes);
  }
  createIntrospector(db: Kysely<unknown>) {
    return new SqliteIntrospector(db);
  }
}

export interface OpenOptions {
  readonly?: boolean;
}

/** Another value whenever another connection has committed something. */
function foreignMark(database: Database.Database): () => unknown {
  const version = database.prepare('pragma data_version').pluck();
  return () => {
    try {
      return version.get();
    } catch (error) {
      // While another process recovers or closes the file, nobody can say: as if it had written.
      if (isBusy(error)) return Symbol();
      throw error;
    }
  };
}

/**
 * Opens a database file: write-ahead log, foreign keys, every commit on disk before it counts. Single reads go by a
 * connection of their own while there is a transaction, and wait for no writer; writes and transactions take turns, and wait for other processes
 * without holding up the thread.
 */
export function openSqlite<T>(path: string, options: OpenOptions = {}): Kysely<T> {
  const writer = new Database(path, { readonly: options.readonly ?? false, timeout: 10_000 });
  const writes = new Writes(foreignMark(writer));
  if (options.readonly) {
    const open = () => new SharedDriver(new Handle(writer), null, null, writes);
    return new Kysely<T>({ dialect: new SharedDialect(open, writes) });
  }
  writer.pragma('journal_mode = WAL');
  writer.pragma('synchronous = NORMAL');
  writer.pragma('foreign_keys = ON');
  writer.pragma(`cache_size = -${CACHE_KB}`);
  // From here on, waiting is done outside SQLite.
  writer.pragma('busy_timeout = 0');
  const reader = new Database(path, { readonly: true, timeout: 5_000 });
  const disk = new Disk(`${path}-wal`);
  const open = () => new SharedDriver(new Handle(writer), new Handle(reader), disk, writes);
  return new Kysely<T>({ dialect: new SharedDialect(open, writes) });
}
