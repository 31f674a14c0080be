import { type RawBuilder, sql } from 'kysely';

/** The function of our connections that {@link folded} is. */
export const FOLDED = 'folded';

/** A text in lower case, in every script. */
export const folded = (text: string): string => text.normalize('NFC').toLowerCase();

/** True where a column, or what is made of some, has a text in it, whatever its case. */
export function hasText(column: string | RawBuilder<unknown>, text: string): RawBuilder<boolean> {
  const like = `%${text.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
  const asked = typeof column === 'string' ? sql.ref(column) : column;
  // SQLite knows the case of the letters a to z alone.
  return /^[\x20-\x7e]*$/.test(text)
    ? sql<boolean>`${asked} like ${like} escape '\\'`
    : sql<boolean>`${sql.raw(FOLDED)}(${asked}) like ${folded(like)} escape '\\'`;
}
