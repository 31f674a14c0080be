import type { Block } from '../blocks/registry.ts';
import type { ReportPage } from '../document.ts';
import type { PaperChoice } from '../paper.ts';
import type { Draft, Edit, ReportRow } from './edit.ts';
import { moveBlock } from './moveBlock.ts';
import { blockIn, idBefore, placed, replaced, rowOf, without } from './places.ts';

/** What an edit comes to, with the edits that take it back; or that what it changes is no longer there. */
export type Applied = { ok: true; draft: Draft; undo: Edit[] } | { ok: false; gone: string };

const withPages = (draft: Draft, pages: ReportPage[]): Draft => ({
  ...draft,
  document: { ...draft.document, pages },
});

/** With this choice of paper, or none where it chooses nothing. */
function withPaper<T extends { paper?: PaperChoice | undefined }>(of: T, paper: PaperChoice): T {
  const { paper: _, ...rest } = of;
  return (paper.size || paper.orientation ? { ...rest, paper } : rest) as T;
}

const withRows = (draft: Draft, page: ReportPage, rows: ReportRow[]): Draft =>
  withPages(draft, replaced(draft.document.pages, { ...page, rows }));

/** One edit of a draft: a pure function. Nothing of the draft that was handed in changes. */
export function applyEdit(draft: Draft, edit: Edit): Applied {
  const { document } = draft;
  const { pages } = document;
  const done = (next: Draft, ...undo: Edit[]): Applied => ({ ok: true, draft: next, undo });
  const gone = (id: string): Applied => ({ ok: false, gone: id });
  switch (edit.op) {
    case 'title':
      return done({ ...draft, title: edit.title }, { op: 'title', title: draft.title });
    case 'period': {
      const { period } = edit;
      return done({ ...draft, document: { ...document, period } }, { op: 'period', period: document.period });
    }
    case 'comparison': {
      const { comparison } = edit;
      const undo: Edit = { op: 'comparison', comparison: document.comparison };
      return done({ ...draft, document: { ...document, comparison } }, undo);
    }
    case 'filter': {
      const { filter = [], ...rest } = document;
      const next = { ...rest, ...(edit.filter.length > 0 && { filter: edit.filter }) };
      return done({ ...draft, document: next }, { op: 'filter', filter: [...filter] });
    }
    case 'assumptions': {
      const { assumptions = [], ...rest } = document;
      const next = { ...rest, ...(edit.assumptions.length > 0 && { assumptions: edit.assumptions }) };
      return done({ ...draft, document: next }, { op: 'assumptions', assumptions });
    }
    case 'attachFigures': {
      const { attachFigures, ...rest } = document;
      const next = { ...rest, ...(edit.attach && { attachFigures: true }) };
      return done({ ...draft, document: next }, { op: 'attachFigures', attach: attachFigures === true });
    }
    case 'contents': {
      const { noContents, ...rest } = document;
      const next = { ...rest, ...(!edit.contents && { noContents: true as const }) };
      return done({ ...draft, document: next }, { op: 'contents', contents: !noContents });
    }
    case 'paper': {
      if (edit.page === null) {
        const undo: Edit = { ...edit, paper: document.paper ?? {} };
        return done({ ...draft, document: withPaper(document, edit.paper) }, undo);
      }
      const page = pages.find((p) => p.id === edit.page);
      if (!page) return gone(edit.page);
      const undo: Edit = { ...edit, paper: page.paper ?? {} };
      return done(withPages(draft, replaced(pages, withPaper(page, edit.paper))), undo);
    }
    case 'addPage':
      if (pages.some((p) => p.id === edit.page.id)) return done(draft);
      return done(withPages(draft, placed(pages, edit.page, edit.after)), { op: 'removePage', page: edit.page.id });
    case 'namePage': {
      const page = pages.find((p) => p.id === edit.page);
      if (!page) return gone(edit.page);
      const undo: Edit = { ...edit, title: page.title };
      return done(withPages(draft, replaced(pages, { ...page, title: edit.title })), undo);
    }
    case 'dropPage': {
      const page = pages.find((p) => p.id === edit.page);
      if (!page) return gone(edit.page);
      const { dropped, ...rest } = page;
      const next = { ...rest, ...(edit.dropped && { dropped: true as const }) };
      return done(withPages(draft, replaced(pages, next)), { ...edit, dropped: dropped === true });
    }
    case 'movePage': {
      const i = pages.findIndex((p) => p.id === edit.page);
      if (i < 0) return gone(edit.page);
      if (edit.after === edit.page) return done(draft);
      const moved = placed(without(pages, edit.page), pages[i]!, edit.after);
      return done(withPages(draft, moved), { ...edit, after: idBefore(pages, i) });
    }
    case 'removePage': {
      const i = pages.findIndex((p) => p.id === edit.page);
      if (i < 0) return done(draft);
      const undo: Edit = { op: 'addPage', page: pages[i]!, after: idBefore(pages, i) };
      return done(withPages(draft, without(pages, edit.page)), undo);
    }
    case 'addRow': {
      const page = pages.find((p) => p.id === edit.page);
      if (rowOf(document, edit.row.id)) return done(draft);
      if (!page) return gone(edit.page);
      return done(withRows(draft, page, placed(page.rows, edit.row, edit.after)), {
        op: 'removeRow',
        row: edit.row.id,
      });
    }
    case 'moveRow': {
      const found = rowOf(document, edit.row);
      if (!found) return gone(edit.row);
      if (!pages.some((p) => p.id === edit.page)) return gone(edit.page);
      if (edit.after === edit.row) return done(draft);
      const { page, row } = found;
      const taken = withRows(draft, page, without(page.rows, row.id));
      const to = taken.document.pages.find((p) => p.id === edit.page)!;
      const after = idBefore(page.rows, page.rows.indexOf(row));
      return done(withRows(taken, to, placed(to.rows, row, edit.after)), { ...edit, page: page.id, after });
    }
    case 'removeRow': {
      const found = rowOf(document, edit.row);
      if (!found) return done(draft);
      const { page, row } = found;
      const after = idBefore(page.rows, page.rows.indexOf(row));
      return done(withRows(draft, page, without(page.rows, row.id)), { op: 'addRow', page: page.id, row, after });
    }
    case 'addBlock': {
      if (blockIn(document, edit.block.id)) return done(draft);
      const found = rowOf(document, edit.row);
      if (!found) return gone(edit.row);
      const { page, row } = found;
      const next = { ...row, blocks: placed(row.blocks, edit.block, edit.after) };
      return done(withRows(draft, page, replaced(page.rows, next)), { op: 'removeBlock', block: edit.block.id });
    }
    case 'moveBlock':
    case 'liftBlock': {
      const moved = moveBlock(document, edit);
      return 'gone' in moved ? gone(moved.gone) : done(withPages(draft, moved.pages), ...moved.undo);
    }
    case 'setBlock': {
      const found = blockIn(document, edit.block);
      if (!found) return gone(edit.block);
      const { page, row, block } = found;
      const set = Object.fromEntries(Object.keys(edit.set).map((key) => [key, block[key as keyof Block] ?? null]));
      const kept = Object.entries({ ...block, ...edit.set }).filter(([, value]) => value !== null);
      const next = { ...row, blocks: replaced(row.blocks, Object.fromEntries(kept) as unknown as Block) };
      return done(withRows(draft, page, replaced(page.rows, next)), { ...edit, set });
    }
    case 'removeBlock': {
      const found = blockIn(document, edit.block);
      if (!found) return done(draft);
      const { page, row, block } = found;
      if (row.blocks.length === 1) return applyEdit(draft, { op: 'removeRow', row: row.id });
      const after = idBefore(row.blocks, row.blocks.indexOf(block));
      const next = { ...row, blocks: without(row.blocks, block.id) };
      return done(withRows(draft, page, replaced(page.rows, next)), { op: 'addBlock', row: row.id, block, after });
    }
  }
}

/**
 * Edits one after the other. What can no longer be done, since what it changes is gone, is left out and named by its
 * place; `undo` takes back what was done, last things first.
 */
export function applyEdits(draft: Draft, edits: readonly Edit[]): { draft: Draft; undo: Edit[]; gone: number[] } {
  const undo: Edit[] = [];
  const gone: number[] = [];
  let now = draft;
  edits.forEach((edit, i) => {
    const applied = applyEdit(now, edit);
    if (!applied.ok) {
      gone.push(i);
      return;
    }
    now = applied.draft;
    undo.unshift(...applied.undo);
  });
  return { draft: now, undo, gone };
}
