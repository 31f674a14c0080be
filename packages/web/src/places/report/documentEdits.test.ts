import { applyEdits, type Edit } from '@chronicon/core/contract/edits';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { actOn } from './actOn.ts';
import { ACTS } from './BlockActs.tsx';
import type { Block } from './block.ts';
import {
  addBlock,
  addPage,
  belowOf,
  blocksIn,
  changesOf,
  columnsOf,
  type Document,
  dropAt,
  duplicate,
  findBlock,
  moveBeside,
  movePage,
  movePages,
  moveRows,
  paste,
  rowsOf,
  setColumns,
  type Target,
} from './documentEdits.ts';

const trend = (id: string, more = {}): Block => ({ kind: 'trend', id, metric: 'visits', title: '', ...more }) as Block;
const document: Document = {
  version: 2,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'previous' },
  pages: [
    {
      id: 'p1',
      title: 'One',
      rows: [
        { id: 'r1', blocks: [trend('a')] },
        { id: 'r2', blocks: [trend('b'), trend('c')] },
      ],
    },
    { id: 'p2', title: 'Two', rows: [{ id: 'r3', blocks: [trend('d')] }] },
  ],
};
const after = (edits: readonly Edit[], from = document): Document =>
  applyEdits({ title: 'R', document: from }, edits).draft.document;
/** Blocks by their rows, pages apart. */
const ids = (d: Document) =>
  d.pages.map((p) => p.rows.map((r) => r.blocks.map((b) => b.id).join('+')).join(' ')).join(' | ');
const done = (doing: { edits: Edit[] }, from = document) => ids(after(doing.edits, from));

describe('what a hand does to a document', () => {
  it('changes the choices that differ, and nothing else', () => {
    const edit = changesOf(trend('b'), { ...trend('b'), title: 'New' } as Block);
    expect(edit).toEqual({ op: 'setBlock', block: 'b', set: { title: 'New' } });
    expect(findBlock(after([edit]), 'b')).toMatchObject({ title: 'New', metric: 'visits' });
  });

  it('moves blocks by rows: past the next, out of a row that they share, onto the next page', () => {
    expect(done(moveRows(document, ['a'], 1))).toBe('b+c a | d');
    expect(done(moveRows(document, ['c'], -1))).toBe('a c b | d');
    expect(done(moveRows(document, ['b'], 1))).toBe('a c b | d');
    expect(done(moveRows(document, ['d'], -1))).toBe('a b+c d | ');
    expect(done(moveRows(document, ['a'], -1))).toBe(ids(document));
    expect(done(moveRows(document, ['d'], 1))).toBe(ids(document));
  });

  it('moves several together, in their order, and none where the first has no room', () => {
    const flat: Document = {
      ...document,
      pages: [{ id: 'p', title: 'P', rows: ['a', 'b', 'c', 'd'].map((id) => ({ id: `r${id}`, blocks: [trend(id)] })) }],
    };
    expect(done(moveRows(flat, ['c', 'b'], -1), flat)).toBe('b c a d');
    expect(done(moveRows(flat, ['b', 'c'], 1), flat)).toBe('a d b c');
    expect(done(moveRows(flat, ['a', 'b'], -1), flat)).toBe('a b c d');
  });

  it('moves blocks beside each other, at the ends of their row into the next one', () => {
    expect(done(moveBeside(document, ['c'], -1))).toBe('a c+b | d');
    expect(done(moveBeside(document, ['b'], -1))).toBe('a+b c | d');
    expect(done(moveBeside(document, ['a'], 1))).toBe('a+b+c | d');
    expect(done(moveBeside(document, ['d'], 1))).toBe(ids(document));
    const six = { id: 'full', blocks: Array.from({ length: 6 }, (_, i) => trend(`x${i}`)) };
    const full: Document = {
      ...document,
      pages: [{ id: 'p', title: 'P', rows: [six, { id: 'r', blocks: [trend('a')] }] }],
    };
    expect(moveBeside(full, ['a'], -1).edits).toEqual([]);
  });

  it('moves blocks onto the page before or after', () => {
    expect(done(movePages(document, ['b'], 1))).toBe('a c | b d');
    expect(done(movePages(document, ['a', 'b'], 1))).toBe('c | a b d');
    expect(done(movePages(document, ['d'], -1))).toBe('a b+c d | ');
    expect(movePages(document, ['a'], -1).edits).toEqual([]);
  });

  it('drops blocks where they are let go: beside others, or in a row of their own', () => {
    const beside = (row: string, at: string | null): Target => ({ kind: 'beside', row, after: at });
    const row = (page: string, at: string | null): Target => ({ kind: 'row', page, after: at });
    expect(done(dropAt(document, ['d'], beside('r2', 'b')))).toBe('a b+d+c | ');
    expect(done(dropAt(document, ['d', 'a'], beside('r2', null)))).toBe('a+d+b+c | ');
    expect(done(dropAt(document, ['b'], row('p2', null)))).toBe('a c | b d');
    expect(done(dropAt(document, ['a', 'c'], row('p2', 'r3')))).toBe('b | d a c');
    for (const at of [beside('r2', 'b'), row('p1', 'r1')]) {
      const same = dropAt(document, at.kind === 'row' ? ['a'] : ['b'], at);
      expect(done(same)).toBe(ids(document));
    }
    expect(done(dropAt(document, ['gone'], row('p1', null)))).toBe(ids(document));
  });

  it('adds below what is chosen, at the end of the page that is, else of the first that is no cover alone', () => {
    const heading = { kind: 'heading', id: 'new', text: 'How we did' } as Block;
    const added = addBlock(heading, belowOf(document, 'd'));
    expect(after(added.edits).pages[1]!.rows[1]!.blocks[0]!.id).toBe(added.select[0]);
    expect(added.select[0]).not.toBe('new');
    expect(belowOf(document, null)).toEqual({ kind: 'row', page: 'p1', after: 'r2' });
    expect(belowOf(document, null, 'p2')).toEqual({ kind: 'row', page: 'p2', after: 'r3' });
    const cover = {
      id: 'p0',
      title: 'Cover',
      rows: [{ id: 'r0', blocks: [{ kind: 'cover', id: 'c0', text: '' } as Block] }],
    };
    const covered = { ...document, pages: [cover, ...document.pages] };
    expect(belowOf(covered, null)).toMatchObject({ page: 'p1' });
    expect(belowOf(covered, 'c0')).toMatchObject({ page: 'p0' });
    expect(belowOf({ ...document, pages: [cover] }, null)).toMatchObject({ page: 'p0' });
  });

  it('copies blocks with their rows, and pages whole, with ids of their own', () => {
    const copied = { rows: rowsOf(document, ['c', 'a']), client: 'cl_1' };
    expect(copied.rows.map((r) => r.blocks.map((b) => b.id))).toEqual([['a'], ['c']]);
    const pasted = paste(document, copied, 'cl_1', 'd', null);
    const now = after(pasted.edits);
    expect(now.pages[1]!.rows).toHaveLength(3);
    expect(pasted.select).toHaveLength(2);
    expect(new Set(blocksIn(now).map((b) => b.id)).size).toBe(6);
    const page = paste(document, { ...copied, page: { title: 'One' } }, 'cl_1', null, 'p1');
    expect(after(page.edits).pages.map((p) => p.title)).toEqual(['One', 'One', 'Two']);
    expect(done(duplicate(document, ['b']))).toMatch(/^a b\+c bl_\w+ \| d$/);
    expect(duplicate(document, []).edits).toEqual([]);
  });

  it('takes no pictures along to another client', () => {
    const picture = { kind: 'image', file: 'f'.repeat(64), type: 'image/png', width: 4, height: 4, pale: false };
    const rows = [{ id: 'r', blocks: [{ kind: 'picture', id: 'p', alt: 'x', caption: '', picture } as Block] }];
    const shownIn = (client: string) => {
      const { edits } = paste(document, { rows, client: 'cl_1' }, client, null, null);
      return blocksIn(after(edits)).find((b) => b.kind === 'picture');
    };
    expect(shownIn('cl_1')).toHaveProperty('picture');
    expect(shownIn('cl_2')).toMatchObject({ alt: 'x' });
    expect(shownIn('cl_2')).not.toHaveProperty('picture');
  });

  it('reckons and sets columns between two and twelve', () => {
    expect(['a', 'b', 'c'].map((id) => columnsOf(document, id))).toEqual([12, 6, 6]);
    const wide = after([setColumns('b', 9)]);
    expect([columnsOf(wide, 'b'), columnsOf(wide, 'c')]).toEqual([9, 3]);
    expect(setColumns('b', 40)).toMatchObject({ set: { columns: 12 } });
    expect(setColumns('b', -3)).toMatchObject({ set: { columns: 2 } });
  });

  it('adds, moves and orders pages', () => {
    const edit = addPage(document, 'New', [], 'p1');
    expect(after([edit]).pages.map((p) => p.title)).toEqual(['One', 'New', 'Two']);
    expect(after(movePage(document, 'p2', -1)).pages.map((p) => p.id)).toEqual(['p2', 'p1']);
    expect(after(movePage(document, 'p1', 1)).pages.map((p) => p.id)).toEqual(['p2', 'p1']);
    expect(movePage(document, 'p1', -1)).toEqual([]);
  });

  it('loses no block and doubles none, whatever acts come one after the other', () => {
    const acts = fc.constantFrom(...ACTS.map((a) => a.key).filter((k) => k !== 'remove' && k !== 'duplicate'));
    const some = fc.subarray(['a', 'b', 'c', 'd'], { minLength: 1 });
    fc.assert(
      fc.property(fc.array(fc.tuple(some, acts), { maxLength: 12 }), (steps) => {
        let now = document;
        for (const [chosen, act] of steps) {
          const { edits, select } = actOn(now, chosen, act);
          const { draft, gone, undo } = applyEdits({ title: '', document: now }, edits);
          expect(gone).toEqual([]);
          expect(applyEdits(draft, undo).draft.document).toEqual(now);
          expect(select.toSorted()).toEqual(chosen.toSorted());
          now = draft.document;
        }
        expect(
          blocksIn(now)
            .map((b) => b.id)
            .toSorted(),
        ).toEqual(['a', 'b', 'c', 'd']);
        expect(now.pages.flatMap((p) => p.rows).every((r) => r.blocks.length > 0)).toBe(true);
      }),
    );
  });
});
