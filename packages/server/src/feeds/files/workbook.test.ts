import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { archived, bookFiles } from '../../test/archive.ts';
import type { RawRow } from './rows.ts';
import { readWorkbook, sheetsOf } from './workbook.ts';

const folder = mkdtempSync(join(tmpdir(), 'chronicon-books-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function kept(files: Record<string, string>): Promise<string> {
  const path = join(folder, 'book.xlsx');
  writeFileSync(path, await archived(files));
  return path;
}

async function rowsOf(path: string, sheet: string | null = null, most = Number.POSITIVE_INFINITY): Promise<RawRow[]> {
  const rows: RawRow[] = [];
  const reading = { format: 'xlsx', encoding: 'utf-8', separator: ',', sheet, sheets: [] } as const;
  await readWorkbook(
    path,
    { ...reading, sheets: [] },
    {
      progress: () => undefined,
      take(more) {
        rows.push(...more);
        return rows.length < most;
      },
    },
  );
  return rows;
}

/** Cells of a single row with these XML cells. */
async function cellsOf(xml: string, options: Parameters<typeof bookFiles>[1] = {}) {
  const path = await kept(bookFiles({ One: `<sheetData><row r="1">${xml}</row></sheetData>` }, options));
  return (await rowsOf(path))[0];
}

const styled = (...codes: string[]): Record<string, string> => ({
  'xl/styles.xml': `<styleSheet><numFmts>${codes.map((c, i) => `<numFmt numFmtId="${164 + i}" formatCode="${c}"/>`).join('')}</numFmts><cellStyleXfs><xf numFmtId="14"/></cellStyleXfs><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/>${codes.map((_, i) => `<xf numFmtId="${164 + i}"/>`).join('')}</cellXfs></styleSheet>`,
});

describe('a workbook', () => {
  it('is read by its sheets in their order, whatever their files are called', async () => {
    const files = bookFiles({ Later: '<sheetData/>', First: '<sheetData><row><c><v>7</v></c></row></sheetData>' });
    const chart = files['xl/_rels/workbook.xml.rels']!.replace(
      'relationships/worksheet" Target="worksheets/sheet1',
      'relationships/chartsheet" Target="worksheets/sheet1',
    );
    const path = await kept({ ...files, 'xl/_rels/workbook.xml.rels': chart });
    expect(await sheetsOf(path)).toEqual(['First']);
    expect((await rowsOf(path))[0]!.cells).toEqual([7]);
    await expect(rowsOf(path, 'Later')).rejects.toThrow('The workbook has no sheet “Later”.');
    expect(await sheetsOf(await kept(bookFiles({ B: '<sheetData/>', A: '<sheetData/>' })))).toEqual(['B', 'A']);
  });

  it('has texts of its own list: parts of several styles, none of the readings beside them', async () => {
    const texts =
      '<sst><si><t>Quay</t></si><si><r><t>Hill </t></r><r><t>top</t></r></si><si><t>東</t><rPh sb="0" eb="1"><t>ひがし</t></rPh></si><si><t>a_x000D_b_x005F_x0041_</t></si></sst>';
    const row = await cellsOf('<c t="s"><v>1</v></c><c t="s"><v>0</v></c><c t="s"><v>2</v></c><c t="s"><v>3</v></c>', {
      more: { 'xl/sharedStrings.xml': texts },
    });
    expect(row!.cells).toEqual(['Hill top', 'Quay', '東', 'a\rb_x0041_']);
    const lost = await cellsOf('<c t="s"><v>9</v></c><c><v>1</v></c>', { more: { 'xl/sharedStrings.xml': texts } });
    expect(lost).toMatchObject({ fault: 'has text that is not in the file' });
  });

  it('places cells by their address, or one after the other', async () => {
    expect((await cellsOf('<c r="B1"><v>1</v></c><c><v>2</v></c><c r="AA1"><v>3</v></c>'))!.cells).toEqual([
      null,
      1,
      2,
      ...Array.from({ length: 23 }, () => null),
      3,
    ]);
    const path = await kept(
      bookFiles({ A: '<sheetData><row r="4"><c><v>1</v></c></row><row/><row><c><v>2</v></c></row></sheetData>' }),
    );
    expect((await rowsOf(path)).map((r) => r.number)).toEqual([4, 6]);
    const odd = ['1e308', '-5', '1.5', '7'].map((r) => `<row r="${r}"><c><v>1</v></c></row>`).join('');
    const other = await kept(bookFiles({ A: `<sheetData>${odd}</sheetData>` }));
    expect((await rowsOf(other)).map((r) => r.number)).toEqual([1, 2, 3, 7]);
  });

  it.each([
    ['yyyy-mm-dd', 46_296, '2026-10-01'],
    ['dd/mm/yyyy hh:mm', 46_296.5, '2026-10-01 12:00:00'],
    ['[$-809]d mmmm yyyy', 46_296, '2026-10-01'],
    ['h:mm AM/PM', 0.75, '18:00:00'],
    ['[h]:mm:ss', 1.0625, '25:30:00'],
    ['[mm]:ss', -0.0625, '-01:30:00'],
    ['yyyy-mm-dd', 1, '1900-01-01'],
    ['yyyy-mm-dd', 61, '1900-03-01'],
    ['yyyy-mm-dd', 2_958_465, '9999-12-31'],
    ['yyyy-mm-dd', 1e12, 1e12],
    ['#,##0.00 &quot;days&quot;', 3, 3],
    ['0.0%', 0.125, 0.125],
    ['General', 46_296, 46_296],
    ['[Red]#,##0;[Blue]-0', 5, 5],
    ['0\\d', 2, 2],
  ])('shows numbers as %s: %d is %s', async (code, value, shown) => {
    expect((await cellsOf(`<c s="2"><v>${value}</v></c>`, { more: styled(code) }))!.cells).toEqual([shown]);
  });

  it('counts days by the formats that every program knows, and from 1904 where it says so', async () => {
    const days = await cellsOf('<c s="1"><v>46296</v></c>', { more: styled() });
    expect(days!.cells).toEqual(['2026-10-01']);
    const from1904 = await cellsOf('<c s="1"><v>44834</v></c>', { more: styled(), book: '<workbookPr date1904="1"/>' });
    expect(from1904!.cells).toEqual(['2026-10-01']);
  });

  it('tells what a cell cannot give, and takes the results of formulas', async () => {
    expect(
      await cellsOf('<c><f>1+2</f><v>3</v></c><c t="str"><f>A1</f><v>x</v></c><c t="b"><v>1</v></c>'),
    ).toMatchObject({
      cells: [3, 'x', 'true'],
      fault: null,
    });
    expect(await cellsOf('<c><v>1</v></c><c><f>A1</f></c>')).toMatchObject({
      fault: 'has a formula without its result',
    });
    expect(await cellsOf('<c t="e"><v>#N/A</v></c>')).toMatchObject({
      cells: ['#N/A'],
      fault: expect.stringContaining('#N/A'),
    });
    expect(
      await cellsOf(
        '<c t="d"><v>2026-10-01T00:00:00Z</v></c><c t="inlineStr"><is><r><t>a</t></r><r><t>b</t></r></is></c>',
      ),
    ).toMatchObject({
      cells: ['2026-10-01', 'ab'],
    });
  });

  it('is read with the prefixes that some programs write', async () => {
    const files = bookFiles({ A: '' });
    files['xl/worksheets/sheet1.xml'] =
      '<x:worksheet xmlns:x="urn:x"><x:sheetData><x:row><x:c><x:v>5</x:v></x:c></x:row></x:sheetData></x:worksheet>';
    expect((await rowsOf(await kept(files)))[0]!.cells).toEqual([5]);
  });

  it('is read no further than somebody wants it', async () => {
    const row = '<row><c><v>1</v></c></row>';
    const path = await kept(bookFiles({ A: `<sheetData>${row.repeat(100_000)}</sheetData>` }));
    expect((await rowsOf(path, null, 1_000)).length).toBeLessThan(10_000);
    expect(await rowsOf(path)).toHaveLength(100_000);
  });

  it.each([
    ['whose XML breaks off', '<sheetData><row><c><v>1'],
    ['that declares entities', '<!DOCTYPE a [<!ENTITY b "bbb">]><sheetData><row><c><v>&b;</v></c></row></sheetData>'],
    ['nested without end', '<a>'.repeat(5_000)],
    [
      'with a marked text of megabytes',
      `<sheetData><row><c t="str"><v><![CDATA[${'x'.repeat(2_000_000)}]]></v></c></row></sheetData>`,
    ],
    ['with a text of megabytes', `<sheetData><row><c t="str"><v>${'x'.repeat(2_000_000)}</v></c></row></sheetData>`],
  ])('%s is refused in words', async (_, sheet) => {
    await expect(rowsOf(await kept(bookFiles({ A: sheet })))).rejects.toThrow(
      'Can’t open this workbook: it’s damaged or password-protected.',
    );
  });

  it('wider than any table is refused before it is kept', async () => {
    const path = await kept(bookFiles({ A: '<sheetData><row><c r="XFD1"><v>1</v></c></row></sheetData>' }));
    await expect(rowsOf(path)).rejects.toThrow(/more than .* columns/);
  });
});
