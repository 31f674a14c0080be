import type { Block } from '../blocks/registry.ts';
import type { ReportDocument, ReportPage } from '../document.ts';
import type { ReportRow } from './edit.ts';

export interface Named {
  id: string;
}

/** The one before a place; null for the first. */
export const idBefore = (list: readonly Named[], i: number): string | null => list[i - 1]?.id ?? null;

/** The list with an item behind `after`: first for null, last for one that is not there. */
export function placed<T extends Named>(list: readonly T[], item: T, after: string | null): T[] {
  const at = after === null ? -1 : list.findIndex((x) => x.id === after);
  const cut = after !== null && at < 0 ? list.length : at + 1;
  return [...list.slice(0, cut), item, ...list.slice(cut)];
}

export const without = <T extends Named>(list: readonly T[], id: string): T[] => list.filter((x) => x.id !== id);
export const replaced = <T extends Named>(list: readonly T[], item: T): T[] =>
  list.map((x) => (x.id === item.id ? item : x));

/** A row with the page on which it stands. */
export function rowOf(document: ReportDocument, id: string): { page: ReportPage; row: ReportRow } | null {
  for (const page of document.pages) {
    const row = page.rows.find((r) => r.id === id);
    if (row) return { page, row };
  }
  return null;
}

/** A block with its row and page. */
export function blockIn(
  document: ReportDocument,
  id: string,
): { page: ReportPage; row: ReportRow; block: Block } | null {
  for (const page of document.pages) {
    for (const row of page.rows) {
      const block = row.blocks.find((b) => b.id === id);
      if (block) return { page, row, block };
    }
  }
  return null;
}
