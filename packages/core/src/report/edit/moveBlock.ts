import type { Block } from '../blocks/registry.ts';
import type { ReportDocument, ReportPage } from '../document.ts';
import type { Edit, ReportRow } from './edit.ts';
import { blockIn, idBefore, placed, replaced, rowOf, without } from './places.ts';

type Move = Extract<Edit, { op: 'moveBlock' | 'liftBlock' }>;
type Moved = { pages: ReportPage[]; undo: Edit[] } | { gone: string };

/** The pages without a block, whose row goes with its last one. */
function taken(document: ReportDocument, { page, row, block }: { page: ReportPage; row: ReportRow; block: Block }) {
  const left = without(row.blocks, block.id);
  const rows = left.length > 0 ? replaced(page.rows, { ...row, blocks: left }) : without(page.rows, row.id);
  return replaced(document.pages, { ...page, rows });
}

/** What puts a block back where it stood. */
function backTo({ page, row, block }: { page: ReportPage; row: ReportRow; block: Block }): Edit {
  if (row.blocks.length > 1)
    return { op: 'moveBlock', block: block.id, row: row.id, after: idBefore(row.blocks, row.blocks.indexOf(block)) };
  return {
    op: 'liftBlock',
    block: block.id,
    row: row.id,
    page: page.id,
    after: idBefore(page.rows, page.rows.indexOf(row)),
  };
}

/** A block in another place: it stays what it is, whatever others make of it meanwhile. */
export function moveBlock(document: ReportDocument, edit: Move): Moved {
  const found = blockIn(document, edit.block);
  if (!found) return { gone: edit.block };
  const { row, block } = found;
  const asItIs: Moved = { pages: document.pages, undo: [] };
  if (edit.op === 'moveBlock') {
    const to = rowOf(document, edit.row);
    if (!to) return { gone: edit.row };
    if (edit.after === block.id) return asItIs;
    // Its own row stays, though it is alone there.
    if (to.row.id === row.id) {
      const blocks = placed(without(row.blocks, block.id), block, edit.after);
      const rows = replaced(found.page.rows, { ...row, blocks });
      return { pages: replaced(document.pages, { ...found.page, rows }), undo: [backTo(found)] };
    }
    const pages = taken(document, found);
    const page = pages.find((p) => p.id === to.page.id)!;
    const next = { ...to.row, blocks: placed(to.row.blocks, block, edit.after) };
    return { pages: replaced(pages, { ...page, rows: replaced(page.rows, next) }), undo: [backTo(found)] };
  }
  if (!document.pages.some((p) => p.id === edit.page)) return { gone: edit.page };
  const held = rowOf(document, edit.row);
  // It has been done: the row stands, with this block alone in it.
  if (held && !(held.row.id === row.id && row.blocks.length === 1)) return asItIs;
  const pages = taken(document, found);
  const page = pages.find((p) => p.id === edit.page)!;
  const rows = placed(page.rows, { id: edit.row, blocks: [block] }, edit.after === edit.row ? null : edit.after);
  return { pages: replaced(pages, { ...page, rows }), undo: [backTo(found)] };
}
