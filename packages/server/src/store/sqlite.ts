import Database from 'better-sqlite3';
import {
  CompiledQuery,
  type DatabaseConnection,
  type Dialect,
  type Driver,
  Kysely,
  SqliteAdapter,
  type SqliteDialectConfig,
  SqliteDriver,
  SqliteIntrospector,
  SqliteQueryCompiler,
} from 'kysely';

/** Takes the write lock when a transaction begins, so that none fails half-way for having read first. */
class ImmediateDriver extends SqliteDriver {
  override async beginTransaction(connection: DatabaseConnection): Promise<void> {
    await connection.executeQuery(CompiledQuery.raw('begin immediate'));
  }
}

class ImmediateDialect implements Dialect {
  constructor(private readonly config: SqliteDialectConfig) {}
  createDriver(): Driver {
    return new ImmediateDriver(this.config);
  }
  createQueryCompiler() {
    return new SqliteQueryCompiler();
  }
  createAdapter() {
    return new SqliteAdapter();
  }
  createIntrospector(db: Kysely<unknown>) {
    return new SqliteIntrospector(db);
  }
}

export interface OpenOptions {
  readonly?: boolean;
}

/**
 * Opens a database file: write-ahead log, foreign keys, every commit on disk before it counts.
 * All words that only SQLite has stand here and in the migrations.
 */
export function openSqlite<T>(path: string, options: OpenOptions = {}): Kysely<T> {
  const database = new Database(path, { readonly: options.readonly ?? false, timeout: 10_000 });
  if (!options.readonly) {
    database.pragma('journal_mode = WAL');
    database.pragma('synchronous = FULL');
    database.pragma('foreign_keys = ON');
  }
  const dialect = options.readonly ? new ReadDialect({ database }) : new ImmediateDialect({ database });
  return new Kysely<T>({ dialect });
}

/** A reader's transactions begin deferred: they see one state and take no lock from the writer. */
class ReadDialect extends ImmediateDialect {
  override createDriver(): Driver {
    return new SqliteDriver(this.readConfig);
  }
  constructor(private readonly readConfig: SqliteDialectConfig) {
    super(readConfig);
  }
}
