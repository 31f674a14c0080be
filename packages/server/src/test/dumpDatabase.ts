import Database from 'better-sqlite3';

/** What Kysely keeps of its own about the steps that were taken; their times are no part of a database's shape. */
const TIMES = 'kysely_migration';

const literal = (value: unknown): string => {
  if (value === null) return 'null';
  if (typeof value === 'string') return `'${value.replaceAll("'", "''")}'`;
  if (Buffer.isBuffer(value)) return `x'${value.toString('hex')}'`;
  return String(value);
};

interface Made {
  type: string;
  name: string;
  sql: string;
}

const madeIn = (database: Database.Database): Made[] =>
  database
    .prepare(
      "select type, name, sql from sqlite_master where sql is not null and name not like 'sqlite_%' order by rowid",
    )
    .all() as Made[];

/** A database as statements that make it anew: every table with its rows, every index. */
export function dumpDatabase(path: string): string {
  const database = new Database(path, { readonly: true });
  const made = madeIn(database);
  const lines = made.flatMap(({ type, name, sql }) => {
    if (type !== 'table') return [`${sql};`];
    const rows = database.prepare(`select * from "${name}"`).all() as Record<string, unknown>[];
    const values = rows.map((row) =>
      Object.entries(row).map(([column, value]) =>
        literal(name === TIMES && column === 'timestamp' ? '2026-11-01' : value),
      ),
    );
    return [`${sql};`, ...values.map((v) => `insert into "${name}" values (${v.join(', ')});`)];
  });
  const version = database.pragma('user_version', { simple: true });
  database.close();
  return `pragma foreign_keys = off;\npragma user_version = ${version};\n${lines.join('\n')}\n`;
}

/** Tables and indexes with their statements, whitespace apart, by name. */
export function shapeOf(path: string): Record<string, string> {
  const database = new Database(path, { readonly: true });
  const shape = Object.fromEntries(madeIn(database).map(({ name, sql }) => [name, sql.replace(/\s+/g, ' ')]));
  database.close();
  return shape;
}
