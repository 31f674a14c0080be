import { DEFAULT_MIGRATION_TABLE, type Kysely, Migrator, NO_MIGRATIONS, sql } from 'kysely';
import { NewerData } from '../platform/newerData.ts';

/** Statements of SQL, and what they cannot say. */
export interface Step {
  readonly statements: readonly string[];
  rewrite?(db: Kysely<unknown>): Promise<void>;
}

export interface StepsOptions {
  /** The last step to take; every step where none is named. */
  until?: string | undefined;
  /** How many of the first steps were taken before a database kept their names. */
  taken?: number;
}

/** Steps that were taken here, by this version or another. */
async function takenSteps(db: Kysely<unknown>): Promise<string[]> {
  const tables = await db.introspection.getTables({ withInternalKyselyTables: true });
  if (!tables.some((t) => t.name === DEFAULT_MIGRATION_TABLE)) return [];
  const { rows } = await sql<{ name: string }>`select name from ${sql.table(DEFAULT_MIGRATION_TABLE)}`.execute(db);
  return rows.map((r) => r.name);
}

/**
 * Brings a database up to date, or up to a step: takes each step that was not taken here yet, in the order of their names, all in one
 * transaction. Whoever starts meanwhile waits, and finds them taken.
 * @throws NewerData where another version took steps that are not known here
 */
export async function takeSteps<T>(
  database: Kysely<T>,
  steps: Readonly<Record<string, Step>>,
  { until, taken = 0 }: StepsOptions = {},
): Promise<void> {
  const db = database as Kysely<unknown>;
  const before = await takenSteps(db);
  if (before.some((name) => !Object.hasOwn(steps, name))) throw new NewerData();
  const migrator = new Migrator({
    db,
    provider: {
      getMigrations: async () =>
        Object.fromEntries(
          Object.entries(steps).map(([name, { statements, rewrite }]) => [
            name,
            {
              up: async (tx: Kysely<unknown>) => {
                for (const statement of statements) await sql.raw(statement).execute(tx);
                await rewrite?.(tx);
              },
            },
          ]),
        ),
    },
  });
  if (before.length === 0 && taken > 0) {
    await migrator.migrateTo(NO_MIGRATIONS);
    const names = Object.keys(steps).slice(0, taken);
    const rows = sql.join(names.map((name) => sql`(${name}, ${''})`));
    await sql`insert or ignore into ${sql.table(DEFAULT_MIGRATION_TABLE)} (name, timestamp) values ${rows}`.execute(db);
  }
  const { error } = await migrator.migrateTo(until ?? Object.keys(steps).at(-1)!);
  if (error) throw error;
}
