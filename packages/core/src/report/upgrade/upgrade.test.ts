import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { blocksOf, documentSchema } from '../document.ts';
import { orderSheetSchema } from '../orderSheet.ts';
import { readDocument } from './document.ts';
import { readOrderSheet } from './orderSheet.ts';
import { StoredError } from './stored.ts';

const folder = new URL('./kept/', import.meta.url);
const kept = (kind: string) => readdirSync(folder).filter((f) => f.startsWith(`${kind}.`));
const read = (file: string) => readFileSync(new URL(file, folder), 'utf8');

describe('documents of every version that was ever stored', () => {
  it.each(kept('document'))('%s opens, and today’s schema takes it as it was read', (file) => {
    const document = readDocument(read(file));
    expect(documentSchema.parse(document)).toEqual(document);
    // Reading what was read changes nothing more.
    expect(readDocument(JSON.stringify(document))).toEqual(document);
    const texts = blocksOf(JSON.parse(read(file))).map((b) => [b.id, b.kind]);
    expect(blocksOf(document).map((b) => [b.id, b.kind])).toEqual(texts);
  });

  it('keeps the words of a commentary that knew no period, as a part of the report', () => {
    const words = blocksOf(readDocument(read('document.1-first.json'))).find((b) => b.kind === 'commentary');
    expect(words).toMatchObject({ span: 'standing', text: 'A strong October.' });
  });

  it('opens one with more rows than may be saved today', () => {
    const document = JSON.parse(read('document.3-dated-commentary.json'));
    const [row] = document.pages[0].rows;
    document.pages[0].rows = Array.from({ length: 90 }, (_, i) => ({
      id: `r${i}`,
      blocks: [{ ...row.blocks[0], id: `b${i}` }],
    }));
    expect(documentSchema.safeParse(document).success).toBe(false);
    expect(readDocument(JSON.stringify(document)).pages[0]!.rows).toHaveLength(90);
  });
});

describe('order sheets of every version that was ever stored', () => {
  it.each(kept('orderSheet'))('%s opens, and today’s schema takes it as it was read', (file) => {
    const sheet = readOrderSheet(read(file));
    expect(orderSheetSchema.parse(sheet)).toEqual(sheet);
    expect(sheet.readers).toEqual(JSON.parse(read(file)).readers);
  });
});

describe('what no version has written', () => {
  const first = JSON.parse(read('document.1-first.json'));
  it.each([
    ['not JSON', '{"version":1', /not JSON/],
    ['no object', '[]', /cannot be read/],
    ['nothing', 'null', /cannot be read/],
    ['a version to come', JSON.stringify({ ...first, version: 9 }), /version/],
    ['a page that is none', JSON.stringify({ ...first, pages: [7] }), /pages\.0/],
    [
      'a kind of block that there is not',
      JSON.stringify({
        ...first,
        pages: [{ ...first.pages[0], rows: [{ id: 'r', blocks: [{ kind: 'x', id: 'b' }] }] }],
      }),
      /pages\.0\.rows\.0\.blocks\.0\.kind/,
    ],
    ['dates that are none', JSON.stringify({ ...first, period: 'last month' }), /period/],
  ])('is refused with its place: %s', (_, text, message) => {
    expect(() => readDocument(text, 'the report rp_1')).toThrow(StoredError);
    expect(() => readDocument(text, 'the report rp_1')).toThrow(message);
    expect(() => readDocument(text, 'the report rp_1')).toThrow('the report rp_1');
  });

  it('is refused of an order sheet, too', () => {
    expect(() => readOrderSheet('{"title":"x"}', 'the order sheet of ed_1')).toThrow(/ed_1.*period/);
  });
});
