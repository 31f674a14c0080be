import { applyEdits, type Edit } from '@chronicon/core/contract/edits';
import { describe, expect, it } from 'vitest';
import type { Block } from './block.ts';
import { addBelow, changesOf, findBlock, moveBy } from './documentEdits.ts';

const trend = (id: string): Block => ({ kind: 'trend', id, metric: 'visits', title: '' });
const document = {
  version: 2 as const,
  period: { kind: 'unit' as const, unit: 'month' as const, offset: -1 },
  comparison: { kind: 'previous' as const },
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
const after = (...edits: Edit[]) => applyEdits({ title: 'R', document }, edits).draft.document;
const ids = (d: typeof document | ReturnType<typeof after>) =>
  d.pages.map((p) => p.rows.map((r) => r.blocks.map((b) => b.id).join('+')));

describe('what a hand does to a document', () => {
  it('changes the choices that differ, and nothing else', () => {
    const edit = changesOf(trend('b'), { ...trend('b'), title: 'New' } as Block);
    expect(edit).toEqual({ op: 'setBlock', block: 'b', set: { title: 'New' } });
    expect(findBlock(after(edit), 'b')).toMatchObject({ title: 'New', metric: 'visits' });
  });

  it('moves a row within its page and not beyond', () => {
    expect(ids(after(...moveBy(document, 'b', -1)))).toEqual([['b+c', 'a'], ['d']]);
    expect(ids(after(...moveBy(document, 'a', 1)))).toEqual([['b+c', 'a'], ['d']]);
    for (const [id, by] of [
      ['a', -1],
      ['d', 1],
      ['nowhere', 1],
    ] as const)
      expect(moveBy(document, id, by)).toEqual([]);
  });

  it('adds below the selected block, else at the end of the first page', () => {
    const heading: Block = { kind: 'heading', id: 'new', text: 'How we did' };
    const below = addBelow(document, heading, 'd');
    expect(after(below.edit).pages[1]!.rows[1]!.blocks[0]!.id).toBe(below.id);
    const end = addBelow(document, heading, null);
    expect(after(end.edit).pages[0]!.rows.at(-1)!.blocks[0]).toMatchObject({ id: end.id, kind: 'heading' });
    expect(new Set([below.id, end.id, 'new']).size).toBe(3);
  });

  it('leaves a cover alone, unless there is nothing else or it is chosen', () => {
    const cover: Block = { kind: 'cover', id: 'c', text: '' };
    const front = { id: 'p0', title: 'Cover', rows: [{ id: 'r0', blocks: [cover] }] };
    const heading: Block = { kind: 'heading', id: 'new', text: 'Words' };
    const pageOf = (pages: (typeof document)['pages'], below: string | null) => {
      const { edit } = addBelow({ ...document, pages }, heading, below);
      return edit.op === 'addRow' ? edit.page : null;
    };
    const pages = [front, ...document.pages] as (typeof document)['pages'];
    expect(pageOf(pages, null)).toBe('p1');
    expect(pageOf(pages, 'c')).toBe('p0');
    expect(pageOf([front] as unknown as (typeof document)['pages'], null)).toBe('p0');
    expect(pageOf([{ id: 'p9', title: 'Empty', rows: [] }, ...document.pages], null)).toBe('p9');
  });
});
