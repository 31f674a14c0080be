import { blockIn, type Draft, type Edit } from '@chronicon/core/contract/edits';
import type { Block } from './block.ts';

type Document = Draft['document'];

export const findBlock = (document: Document, id: string | null): Block | undefined =>
  id === null ? undefined : blockIn(document, id)?.block;

/** The choices in which a block differs from what it was. */
export function changesOf(before: Block, after: Block): Edit {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof Block>;
  // What it no longer says, it leaves to the report.
  const changed = [...keys].filter((key) => before[key] !== after[key]).map((key) => [key, after[key] ?? null]);
  return { op: 'setBlock', block: before.id, set: Object.fromEntries(changed) };
}

/** Moves the row of a block up or down its page; nothing where it is at the end already. */
export function moveBy(document: Document, id: string, by: -1 | 1): Edit[] {
  const found = blockIn(document, id);
  if (!found) return [];
  const { page, row } = found;
  const to = page.rows.indexOf(row) + by;
  if (to < 0 || to >= page.rows.length) return [];
  const after = by === 1 ? page.rows[to]!.id : (page.rows[to - 1]?.id ?? null);
  return [{ op: 'moveRow', row: row.id, page: page.id, after }];
}

const freshId = () => `bl_${crypto.randomUUID().replaceAll('-', '').slice(0, 20)}`;

/** Adds a block in a row of its own below the given one, or at the end of the first page that is not a cover alone. */
export function addBelow(document: Document, fresh: Block, below: string | null): { edit: Edit; id: string } {
  const block = { ...fresh, id: freshId() };
  const found = below === null ? null : blockIn(document, below);
  const isCover = ({ rows }: Document['pages'][number]) =>
    rows.length > 0 && rows.every((r) => r.blocks.every((b) => b.kind === 'cover'));
  const open = document.pages.find((p) => !isCover(p));
  const page = found?.page ?? open ?? document.pages[0]!;
  const after = found?.row.id ?? page.rows.at(-1)?.id ?? null;
  return { edit: { op: 'addRow', page: page.id, row: { id: freshId(), blocks: [block] }, after }, id: block.id };
}
