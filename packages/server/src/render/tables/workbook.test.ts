import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import readXlsx from 'read-excel-file/node';
import { afterAll, describe, expect, it } from 'vitest';
import { readWorkbook } from '../../feeds/files/workbook.ts';
import { archiveOf } from '../../test/archive.ts';
import type { Cell, Table } from './table.ts';
import { workbookOf } from './workbook.ts';

const folder = mkdtempSync(join(tmpdir(), 'chronicon-tables-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const CREATED = '2026-11-02T09:00:00.000Z';
const table = (rows: Cell[][], more: Partial<Table> = {}): Table => ({
  title: 'Tarnbeck Pottery: Visits',
  author: 'Fernglass & Sons <Media>',
  about: ['October 2026'],
  head: ['Day', 'Visits'],
  rows,
  currency: 'GBP',
  ...more,
});
const text = (said: string): Cell => ({ kind: 'text', text: said });

async function readBack(book: Buffer): Promise<unknown[][]> {
  const path = join(folder, 'book.xlsx');
  writeFileSync(path, book);
  const rows: unknown[][] = [];
  await readWorkbook(
    path,
    { format: 'xlsx', encoding: 'utf-8', separator: ',', sheet: 'Figures', sheets: [] },
    {
      progress: () => undefined,
      take(more) {
        rows.push(...more.map((r) => r.cells));
        return true;
      },
    },
  );
  return rows;
}

describe('a table as a workbook', () => {
  it('is the same to the byte, in every zone', async () => {
    const zone = process.env.TZ;
    const books: Buffer[] = [];
    for (const place of ['UTC', 'Pacific/Kiritimati', 'America/St_Johns']) {
      process.env.TZ = place;
      books.push(await workbookOf(table([[text('a'), { kind: 'date', date: '2026-10-01' }]]), CREATED));
    }
    if (zone === undefined) delete process.env.TZ;
    else process.env.TZ = zone;
    expect(books[1]!.equals(books[0]!)).toBe(true);
    expect(books[2]!.equals(books[0]!)).toBe(true);
  });

  it('says who made it and when', async () => {
    const files = await archiveOf(await workbookOf(table([]), CREATED));
    expect(files.get('docProps/core.xml')).toContain('<dc:creator>Fernglass &amp; Sons &lt;Media&gt;</dc:creator>');
    expect(files.get('docProps/core.xml')).toContain('>2026-11-02T09:00:00Z</dcterms:created>');
    expect(files.get('docProps/app.xml')).toContain('<Company>Fernglass &amp; Sons');
  });

  it('is opened by a program that is not ours, with 30 columns and days of three centuries', async () => {
    const wide: Cell[] = Array.from({ length: 30 }, (_, i) => ({ kind: 'number', value: i / 4, unit: 'decimal' }));
    const days: Cell[] = ['1899-12-31', '1900-03-01', '2026-10-01', '9999-12-31'].map((date) => ({
      kind: 'date',
      date,
    }));
    const [{ data }] = (await readXlsx(
      await workbookOf(table([wide, days, [{ kind: 'empty' }, text('x')]]), CREATED),
    )) as unknown as [{ data: unknown[][] }];
    expect(data.slice(0, 3).map((r) => r[0])).toEqual(['Tarnbeck Pottery: Visits', 'October 2026', 'Day']);
    expect(data[3]!.slice(0, 30)).toEqual(wide.map((_, i) => i / 4));
    expect(data[4]!.slice(0, 4)).toEqual([
      '1899-12-31',
      new Date('1900-03-01T00:00:00Z'),
      new Date('2026-10-01T00:00:00Z'),
      new Date('9999-12-31T00:00:00Z'),
    ]);
    expect(data[5]!.slice(0, 2)).toEqual([null, 'x']);
  });

  it('gives back every text and number that went into it', async () => {
    const writable = fc
      .string({ unit: 'binary', maxLength: 60 })
      // XML has no way to hold these.
      .map((s) => s.replace(/[\u0000-\u001f\ufffe\uffff]/g, ''))
      .filter((s) => s !== '');
    const cell = fc.oneof(
      writable.map(text),
      fc.constantFrom('_x0041_', ' a ', '<&>"', 'שלום', '👩🏽‍🚀', '_x005F_').map(text),
      fc
        .double({ noNaN: true, noDefaultInfinity: true })
        .map((value): Cell => ({ kind: 'number', value, unit: 'money' })),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(cell, { minLength: 1, maxLength: 6 }), async (cells) => {
        const rows = await readBack(await workbookOf(table([cells]), CREATED));
        const expected = cells.map((c) => (c.kind === 'text' ? c.text : c.kind === 'number' ? c.value + 0 : null));
        expect(rows[3]).toEqual(expected);
      }),
      { numRuns: 60 },
    );
  });
});
