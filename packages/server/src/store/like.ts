import { type RawBuilder, sql } from 'kysely';

/** True where a column has a text in it, whatever its case in the letters a to z. */
export function hasText(column: string, text: string): RawBuilder<boolean> {
  const like = `%${text.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
  return sql<boolean>`${sql.ref(column)} like ${like} escape '\\'`;
}
