import { describe, expect, it } from 'vitest';
import { wordsFor } from '../words/index.ts';
import { documentFrom, documentSchema, periodCommentariesOf, readDocument, unwrittenOf } from './index.ts';

let n = 0;
const fresh = () => documentFrom('shop', wordsFor('en-GB'), () => `id${n++}`);

describe('commentary for one period', () => {
  it('is what a new report begins with, and has to be written', () => {
    const document = fresh();
    const [id] = periodCommentariesOf(document);
    expect(unwrittenOf(document, {})).toEqual([id]);
    expect(unwrittenOf(document, { [id!]: '  ' })).toEqual([id]);
    expect(unwrittenOf(document, { [id!]: 'A good month.' })).toEqual([]);
  });

  it('of a document stored before is standing, and stays readable', () => {
    const document = fresh();
    const old = JSON.stringify(document).replaceAll('"span":"period",', '');
    expect(periodCommentariesOf(readDocument(old))).toEqual([]);
    expect(documentSchema.safeParse(readDocument(old)).success).toBe(true);
  });
});

describe('a stored document', () => {
  it('opens though its dates lie outside today’s bounds', () => {
    const stored = JSON.stringify({ ...fresh(), period: { kind: 'fixed', from: '0001-01-01', to: '9999-12-31' } });
    expect(documentSchema.safeParse(JSON.parse(stored)).success).toBe(false);
    expect(documentSchema.safeParse(readDocument(stored)).success).toBe(true);
  });
});

describe('a document', () => {
  it('holds no more than can be drawn, and no block twice', () => {
    const document = fresh();
    const row = document.pages[0]!.rows[0]!;
    const many = Array.from({ length: 40 }, (_, i) => ({
      ...row,
      id: `r${i}`,
      blocks: [{ ...row.blocks[0]!, id: `b${i}` }],
    }));
    const pages = Array.from({ length: 7 }, (_, i) => ({
      id: `p${i}`,
      title: 'P',
      rows: many.map((r) => ({ ...r, blocks: r.blocks.map((b) => ({ ...b, id: `${i}${b.id}` })) })),
    }));
    expect(documentSchema.safeParse({ ...document, pages }).error?.issues[0]?.message).toContain('240 blocks');
    expect(documentSchema.safeParse({ ...document, pages: pages.slice(0, 6) }).success).toBe(true);
    const twice = [document.pages[0]!, { ...document.pages[0]!, id: 'other' }];
    expect(documentSchema.safeParse({ ...document, pages: twice }).success).toBe(false);
  });
});
