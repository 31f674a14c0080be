import type { Block } from '../blocks/registry.ts';
import type { ReportDocument } from '../document.ts';
import { applyEdit } from './applyEdit.ts';
import type { Draft, Edit, ReportRow } from './edit.ts';
import { blockIn, idBefore, rowOf } from './places.ts';

/** As text, whatever the order of its keys. */
const written = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    v !== null && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );
const same = (a: unknown, b: unknown): boolean => written(a) === written(b);

const idsOf = (list: readonly { id: string }[]): string[] => list.map((x) => x.id);

/** The most of these ids that may stay where they are, while the others are moved, to come to another order. */
function staying(now: readonly string[], then: readonly string[]): Set<string> {
  // The longest run of rising places, built on the longest ones that end before each.
  const runs: { at: number; ids: string[] }[] = [];
  const longest = (of: typeof runs) =>
    of.reduce<string[]>((most, r) => (r.ids.length > most.length ? r.ids : most), []);
  for (const id of then) {
    const at = now.indexOf(id);
    if (at >= 0) runs.push({ at, ids: [...longest(runs.filter((r) => r.at < at)), id] });
  }
  return new Set(longest(runs));
}

const allBlocks = ({ pages }: ReportDocument): Block[] => pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));

/** Edits one after the other on a draft of its own, as they come to be known. */
class Way {
  readonly edits: Edit[] = [];
  constructor(public draft: Draft) {}

  does(edit: Edit): void {
    const applied = applyEdit(this.draft, edit);
    // What would come to nothing is no part of the way.
    if (!applied.ok || same(applied.draft, this.draft)) return;
    this.draft = applied.draft;
    this.edits.push(edit);
  }
}

/** What is chosen for the report as a whole. */
function whole(way: Way, { title, document }: Draft): void {
  way.does({ op: 'title', title });
  way.does({ op: 'period', period: document.period });
  way.does({ op: 'comparison', comparison: document.comparison });
  way.does({ op: 'filter', filter: document.filter ?? [] });
  way.does({ op: 'assumptions', assumptions: document.assumptions ?? [] });
  way.does({ op: 'attachFigures', attach: document.attachFigures === true });
  way.does({ op: 'contents', contents: !document.noContents });
  way.does({ op: 'paper', page: null, paper: document.paper ?? {} });
}

/** One row where it is to stand, with its blocks in their order; those that others are to have stay until they are taken. */
function row(way: Way, to: ReportRow, page: string, after: string | null, stays: boolean): void {
  const there = () => rowOf(way.draft.document, to.id);
  const [first, ...rest] = to.blocks as [Block, ...Block[]];
  if (there()) {
    if (!stays) way.does({ op: 'moveRow', row: to.id, page, after });
  } else if (blockIn(way.draft.document, first.id)) {
    way.does({ op: 'liftBlock', block: first.id, row: to.id, page, after });
  } else way.does({ op: 'addRow', page, row: { id: to.id, blocks: [first] }, after });
  let before: string | null = null;
  for (const block of [first, ...rest]) {
    const found = blockIn(way.draft.document, block.id);
    if (!found) way.does({ op: 'addBlock', row: to.id, block, after: before });
    else if (found.row.id !== to.id || idBefore(found.row.blocks, found.row.blocks.indexOf(found.block)) !== before)
      way.does({ op: 'moveBlock', block: block.id, row: to.id, after: before });
    before = block.id;
  }
}

/** The choices of a block, those taken away as null. */
function choices(way: Way, to: Block): void {
  const now = blockIn(way.draft.document, to.id)!.block as unknown as Record<string, unknown>;
  const next = to as unknown as Record<string, unknown>;
  const keys = [...new Set([...Object.keys(now), ...Object.keys(next)])].filter((k) => !same(now[k], next[k]));
  if (keys.length > 0)
    way.does({ op: 'setBlock', block: to.id, set: Object.fromEntries(keys.map((k) => [k, next[k] ?? null])) });
}

/**
 * The edits that make one draft of another: by the ids of pages, rows and blocks, so that they can be done on a third one,
 * too, as far as it still has what they change. Applied to `from` they come to `to`, but for the order of keys.
 */
export function editsBetween(from: Draft, to: Draft): Edit[] {
  const way = new Way(from);
  whole(way, to);
  const wanted = new Map(allBlocks(to.document).map((b) => [b.id, b]));
  // What is gone goes first; a block of another kind is another block.
  for (const b of allBlocks(from.document))
    if (wanted.get(b.id)?.kind !== b.kind) way.does({ op: 'removeBlock', block: b.id });
  const known = new Set(allBlocks(way.draft.document).map((b) => b.id));
  const pagesStay = staying(idsOf(from.document.pages), idsOf(to.document.pages));
  let before: string | null = null;
  for (const page of to.document.pages) {
    const stands = way.draft.document.pages.find((p) => p.id === page.id);
    const rowsAreNew = page.rows.every(
      (r) => !rowOf(way.draft.document, r.id) && r.blocks.every((b) => !known.has(b.id)),
    );
    if (!stands) way.does({ op: 'addPage', page: rowsAreNew ? page : { ...page, rows: [] }, after: before });
    else {
      if (!pagesStay.has(page.id)) way.does({ op: 'movePage', page: page.id, after: before });
      way.does({ op: 'namePage', page: page.id, title: page.title });
      way.does({ op: 'dropPage', page: page.id, dropped: page.dropped === true });
      way.does({ op: 'paper', page: page.id, paper: page.paper ?? {} });
    }
    before = page.id;
    const rowsStay = staying(idsOf(stands?.rows ?? []), idsOf(page.rows));
    let above: string | null = null;
    for (const r of page.rows) {
      const blocks = rowOf(way.draft.document, r.id)?.row.blocks ?? [];
      const stays = rowsStay.has(r.id);
      if (!stays || !same(idsOf(blocks), idsOf(r.blocks))) row(way, r, page.id, above, stays);
      above = r.id;
    }
  }
  for (const page of from.document.pages)
    if (!to.document.pages.some((p) => p.id === page.id)) way.does({ op: 'removePage', page: page.id });
  for (const block of wanted.values()) choices(way, block);
  return way.edits;
}
