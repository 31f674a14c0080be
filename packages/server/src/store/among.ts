import { type RawBuilder, type SqlBool, sql } from 'kysely';

/**
 * True for rows whose column has one of these values: however many they are, it is one parameter of one statement, which
 * has to be understood once.
 */
export const among = (column: string, values: readonly string[]): RawBuilder<SqlBool> =>
  sql<SqlBool>`${sql.ref(column)} in (select value from json_each(${JSON.stringify(values)}))`;
