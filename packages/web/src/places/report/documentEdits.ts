import { MOST_ABREAST, MOST_COLUMNS } from '@chronicon/core/bounds';
import { applyEdits, blockIn, type Draft, type Edit, type ReportRow } from '@chronicon/core/contract/edits';
import type { Block } from './block.ts';

export type Document = Draft['document'];
export type Page = Document['pages'][number];

/** Edits, and what is to be chosen when they are done. */
export interface Doing {
  edits: Edit[];
  select: string[];
}

/** Where a block may be put: into a row of its own behind another one of a page, or beside others of a row. */
export type Target =
  | { kind: 'row'; page: string; after: string | null }
  | { kind: 'beside'; row: string; after: string | null };

/** Columns of a row, and the fewest of a block. */
export const COLUMNS = MOST_COLUMNS;
export const LEAST_COLUMNS = 2;

const freshId = () => `bl_${crypto.randomUUID().replaceAll('-', '').slice(0, 20)}`;

export const blocksIn = (document: Document): Block[] =>
  document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks as Block[]));

export const findBlock = (document: Document, id: string | null): Block | undefined =>
  id === null ? undefined : blockIn(document, id)?.block;

/** These blocks in reading order, without those that are gone. */
export const inOrder = (document: Document, ids: readonly string[]): string[] => {
  const chosen = new Set(ids);
  return blocksIn(document).flatMap((b) => (chosen.has(b.id) ? b.id : []));
};

/** The choices in which a block differs from what it was. */
export function changesOf(before: Block, after: Block): Edit {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof Block>;
  // What it no longer says, it leaves to the report.
  const changed = [...keys].filter((key) => before[key] !== after[key]).map((key) => [key, after[key] ?? null]);
  return { op: 'setBlock', block: before.id, set: Object.fromEntries(changed) };
}

const before = (list: readonly { id: string }[], i: number): string | null => list[i - 1]?.id ?? null;

/** One block a row up or down: out of a row that it shares, past the next row, or onto the next page. */
function oneRow(document: Document, id: string, by: -1 | 1): Edit[] {
  const found = blockIn(document, id);
  if (!found) return [];
  const { page, row } = found;
  const at = page.rows.indexOf(row);
  if (row.blocks.length > 1) {
    const after = by === 1 ? row.id : before(page.rows, at);
    return [{ op: 'liftBlock', block: id, row: freshId(), page: page.id, after }];
  }
  const beyond = page.rows[at + by];
  if (beyond) {
    const after = by === 1 ? beyond.id : before(page.rows, at - 1);
    return [{ op: 'moveRow', row: row.id, page: page.id, after }];
  }
  const next = document.pages[document.pages.indexOf(page) + by];
  if (!next) return [];
  return [{ op: 'moveRow', row: row.id, page: next.id, after: by === 1 ? null : (next.rows.at(-1)?.id ?? null) }];
}

/** One block to the left or right: within its row, or beside the blocks of the row before or after it. */
function oneBeside(document: Document, id: string, by: -1 | 1): Edit[] {
  const found = blockIn(document, id);
  if (!found) return [];
  const { page, row } = found;
  const at = row.blocks.findIndex((b) => b.id === id);
  const beyond = row.blocks[at + by];
  if (beyond) {
    const after = by === 1 ? beyond.id : before(row.blocks, at - 1);
    return [{ op: 'moveBlock', block: id, row: row.id, after }];
  }
  const next = page.rows[page.rows.indexOf(row) + by];
  if (!next || next.blocks.length >= MOST_ABREAST) return [];
  return [{ op: 'moveBlock', block: id, row: next.id, after: by === 1 ? null : next.blocks.at(-1)!.id }];
}

/** The same for several blocks, one after the other; where the first has no room, none moves. */
function each(
  document: Document,
  ids: readonly string[],
  by: -1 | 1,
  one: (document: Document, id: string, by: -1 | 1) => Edit[],
): Doing {
  const order = inOrder(document, ids);
  const edits: Edit[] = [];
  let draft: Draft = { title: '', document };
  for (const id of by === 1 ? order.toReversed() : order) {
    const now = one(draft.document, id, by);
    if (now.length === 0 && edits.length === 0) return { edits: [], select: order };
    draft = applyEdits(draft, now).draft;
    edits.push(...now);
  }
  return { edits, select: order };
}

export const moveRows = (document: Document, ids: readonly string[], by: -1 | 1): Doing =>
  each(document, ids, by, oneRow);
export const moveBeside = (document: Document, ids: readonly string[], by: -1 | 1): Doing =>
  each(document, ids, by, oneBeside);

/** Blocks onto the page before or after theirs: to its end, or to its beginning. */
export const movePages = (document: Document, ids: readonly string[], by: -1 | 1): Doing =>
  each(document, ids, by, (doc, id) => {
    const found = blockIn(doc, id);
    const next = found && doc.pages[doc.pages.indexOf(found.page) + by];
    if (!found || !next) return [];
    const after = by === 1 ? null : (next.rows.at(-1)?.id ?? null);
    return found.row.blocks.length === 1
      ? [{ op: 'moveRow', row: found.row.id, page: next.id, after }]
      : [{ op: 'liftBlock', block: id, row: freshId(), page: next.id, after }];
  });

/** Blocks to where they were dropped, in reading order; none where there is no room beside. */
export function dropAt(document: Document, ids: readonly string[], target: Target): Doing {
  const order = inOrder(document, ids);
  const edits: Edit[] = [];
  let { after } = target;
  let draft: Draft = { title: '', document };
  const doing = (edit: Edit) => {
    edits.push(edit);
    draft = applyEdits(draft, [edit]).draft;
  };
  for (const block of order) {
    if (target.kind === 'beside') {
      const row = draft.document.pages.flatMap((p) => p.rows).find((r) => r.id === target.row);
      if (!row) break;
      if (after === block) continue;
      if (!row.blocks.some((b) => b.id === block) && row.blocks.length >= MOST_ABREAST) break;
      doing({ op: 'moveBlock', block, row: target.row, after });
      after = block;
    } else {
      const { row } = blockIn(draft.document, block)!;
      if (row.blocks.length === 1) {
        if (after !== row.id) doing({ op: 'moveRow', row: row.id, page: target.page, after });
        after = row.id;
      } else {
        const own = freshId();
        doing({ op: 'liftBlock', block, row: own, page: target.page, after });
        after = own;
      }
    }
  }
  return { edits, select: order };
}

const isCover = ({ rows }: Page) => rows.length > 0 && rows.every((r) => r.blocks.every((b) => b.kind === 'cover'));

/** Below a block, or at the end of a page; with neither, of the first page that is not a cover alone. */
export function belowOf(document: Document, below: string | null, page: string | null = null): Target {
  const found = below === null ? null : blockIn(document, below);
  if (found) return { kind: 'row', page: found.page.id, after: found.row.id };
  const open =
    document.pages.find((p) => p.id === page) ?? document.pages.find((p) => !isCover(p)) ?? document.pages[0]!;
  return { kind: 'row', page: open.id, after: open.rows.at(-1)?.id ?? null };
}

/** Adds a block where it is to stand. */
export function addBlock(fresh: Block, target: Target): Doing {
  const block = { ...fresh, id: freshId() } as Block;
  const edit: Edit =
    target.kind === 'row'
      ? { op: 'addRow', page: target.page, row: { id: freshId(), blocks: [block] }, after: target.after }
      : { op: 'addBlock', row: target.row, block, after: target.after };
  return { edits: [edit], select: [block.id] };
}

/** What is copied: rows with the blocks that were chosen of each, or a page. */
export interface Copied {
  rows: ReportRow[];
  /** Of a page that was copied whole. */
  page?: { title: string };
  /** Whose it is: of another client, pictures do not come along. */
  client: string;
}

const anew = (row: ReportRow): ReportRow => ({
  id: freshId(),
  blocks: row.blocks.map((b) => ({ ...b, id: freshId() })),
});

/** The rows of these blocks, with no others in them. */
export function rowsOf(document: Document, ids: readonly string[]): ReportRow[] {
  const chosen = new Set(ids);
  return document.pages
    .flatMap((p) => p.rows)
    .map((r) => ({ ...r, blocks: r.blocks.filter((b) => chosen.has(b.id)) }))
    .filter((r) => r.blocks.length > 0);
}

/** Rows once more, with ids of their own, behind a row of a page. */
export function addRows(rows: readonly ReportRow[], target: Extract<Target, { kind: 'row' }>): Doing {
  let { after } = target;
  const made = rows.map(anew);
  const edits = made.map((row): Edit => {
    const edit: Edit = { op: 'addRow', page: target.page, row, after };
    after = row.id;
    return edit;
  });
  return { edits, select: made.flatMap((r) => r.blocks.map((b) => b.id)) };
}

/** Blocks once more, below the last of them. */
export function duplicate(document: Document, ids: readonly string[]): Doing {
  const last = inOrder(document, ids).at(-1);
  if (last === undefined) return { edits: [], select: [] };
  const target = belowOf(document, last);
  return target.kind === 'row' ? addRows(rowsOf(document, ids), target) : { edits: [], select: [] };
}

/** A page of rows behind another; the last one for null. */
export function addPage(
  document: Document,
  title: string,
  rows: readonly ReportRow[],
  after: string | null,
): Edit & { op: 'addPage' } {
  return {
    op: 'addPage',
    page: { id: freshId(), title, rows: rows.map(anew) },
    after: after ?? document.pages.at(-1)!.id,
  };
}

/** What is pasted, behind what is chosen; of another client without pictures, which are that client’s own. */
export function paste(
  document: Document,
  copied: Copied,
  client: string,
  below: string | null,
  page: string | null,
): Doing {
  const rows =
    copied.client === client
      ? copied.rows
      : copied.rows.map((r) => ({
          ...r,
          blocks: r.blocks.map((b) => (b.kind === 'picture' ? (({ picture: _, ...rest }) => rest)(b) : b)),
        }));
  if (copied.page) {
    const after = (below && blockIn(document, below)?.page.id) || page;
    const edit = addPage(document, copied.page.title, rows, after);
    return { edits: [edit], select: edit.page.rows[0]?.blocks.slice(0, 1).map((b) => b.id) ?? [] };
  }
  const target = belowOf(document, below, page);
  return target.kind === 'row' ? addRows(rows, target) : { edits: [], select: [] };
}

/** The columns of a block as it stands: its own, or its share of what the others of its row leave. */
export function columnsOf(document: Document, id: string): number {
  const found = blockIn(document, id);
  if (!found) return COLUMNS;
  const { row, block } = found;
  if (block.columns !== undefined) return block.columns;
  const free = row.blocks.filter((b) => b.columns === undefined);
  const taken = row.blocks.reduce((sum, b) => sum + (b.columns ?? 0), 0);
  return Math.max(LEAST_COLUMNS, Math.floor((COLUMNS - taken) / free.length));
}

/** So many columns for a block. */
export const setColumns = (id: string, columns: number): Edit => ({
  op: 'setBlock',
  block: id,
  set: { columns: Math.min(COLUMNS, Math.max(LEAST_COLUMNS, columns)) },
});

/** A page moved before the one ahead of it, or behind the one after it. */
export function movePage(document: Document, id: string, by: -1 | 1): Edit[] {
  const at = document.pages.findIndex((p) => p.id === id);
  const beyond = document.pages[at + by];
  if (at < 0 || !beyond) return [];
  return [{ op: 'movePage', page: id, after: by === 1 ? beyond.id : before(document.pages, at - 1) }];
}
