import { describe, expect, it } from 'vitest';
import type { Block } from './BlockChoices.tsx';
import { addBlock, findBlock, moveBlock, removeBlock, replaceBlock } from './editDocument.ts';

const trend = (id: string): Block => ({ kind: 'trend', id, metric: 'visits', title: '' });
const document = {
  version: 1 as const,
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
const ids = (d: typeof document) => d.pages.map((p) => p.rows.map((r) => r.blocks.map((b) => b.id).join('+')));

describe('editing a document', () => {
  it('changes one block and leaves the original as it was', () => {
    const next = replaceBlock(document, { ...trend('b'), title: 'New' } as Block);
    expect(findBlock(next, 'b')).toMatchObject({ title: 'New' });
    expect(findBlock(document, 'b')).toMatchObject({ title: '' });
  });

  it('moves a row within its page and not beyond', () => {
    expect(ids(moveBlock(document, 'b', -1) as typeof document)).toEqual([['b+c', 'a'], ['d']]);
    expect(ids(moveBlock(document, 'a', -1) as typeof document)).toEqual(ids(document));
    expect(ids(moveBlock(document, 'd', 1) as typeof document)).toEqual(ids(document));
  });

  it('takes a block away, and its row with the last of it', () => {
    expect(ids(removeBlock(document, 'c') as typeof document)).toEqual([['a', 'b'], ['d']]);
    expect(ids(removeBlock(document, 'a') as typeof document)).toEqual([['b+c'], ['d']]);
  });

  it('adds below the selected block, else at the end of the first page', () => {
    const [below, id] = addBlock(document, 'heading', 'd');
    expect(below.pages[1]!.rows[1]!.blocks[0]!.id).toBe(id);
    const [end, other] = addBlock(document, 'kpiRow', null);
    expect(end.pages[0]!.rows.at(-1)!.blocks[0]).toMatchObject({ id: other, kind: 'kpiRow' });
  });
});
