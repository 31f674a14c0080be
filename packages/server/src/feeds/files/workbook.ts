import { posix } from 'node:path';
import type { Cell } from '@chronicon/core/feeds';
import { type Archive, DAMAGED, openArchive } from './archive.ts';
import { checkWidth, FileError, type RawRow, type RowSink, type RowSource } from './rows.ts';
import { currencyOfFormat, lookOf, type NumberLook, type RawCell, readCell, unescapeText } from './sheetCells.ts';
import { readXml } from './xmlEvents.ts';

/** Rows that are handed on together. */
const BATCH = 500;

interface Sheet {
  name: string;
  /** Its file in the archive. */
  path: string;
}

interface Book {
  sheets: Sheet[];
  from1904: boolean;
  texts: string | null;
  styles: string | null;
}

const last = (type: string): string => type.slice(type.lastIndexOf('/') + 1);

/** What a workbook consists of: its sheets of cells in order, and where texts and styles are kept. */
async function bookOf(archive: Archive): Promise<Book> {
  const named: { name: string; id: string }[] = [];
  let from1904 = false;
  await readXml(await archive.open('xl/workbook.xml'), {
    open(name, attributes) {
      if (name === 'workbookPr') from1904 = /^(1|true)$/.test(attributes.date1904 ?? '');
      if (name !== 'sheet') return;
      const id = Object.entries(attributes).find(([key]) => key.endsWith(':id'))?.[1];
      named.push({ name: attributes.name ?? '', id: id ?? '' });
    },
    close() {},
  });
  const parts = new Map<string, { type: string; path: string }>();
  await readXml(await archive.open('xl/_rels/workbook.xml.rels'), {
    open(name, { Id = '', Type = '', Target = '' }) {
      if (name === 'Relationship') parts.set(Id, { type: last(Type), path: posix.resolve('/xl', Target).slice(1) });
    },
    close() {},
  });
  const pathOf = (type: string) =>
    [...parts.values()].find((p) => p.type === type && archive.has(p.path))?.path ?? null;
  return {
    sheets: named.flatMap(({ name, id }) => {
      const part = parts.get(id);
      return part?.type === 'worksheet' && archive.has(part.path) ? [{ name, path: part.path }] : [];
    }),
    from1904,
    texts: pathOf('sharedStrings'),
    styles: pathOf('styles'),
  };
}

/** The texts that cells name by number. Readings beside a text (phonetic ones) are no part of it. */
async function textsOf(archive: Archive, path: string | null): Promise<string[]> {
  const texts: string[] = [];
  if (path === null) return texts;
  let text = '';
  let aside = false;
  await readXml(await archive.open(path), {
    open(name) {
      if (name === 'si') text = '';
      if (name === 'rPh') aside = true;
    },
    close(name, said) {
      if (name === 't' && !aside) text += said;
      if (name === 'rPh') aside = false;
      if (name === 'si') texts.push(unescapeText(text));
    },
  });
  return texts;
}

interface Format {
  look: NumberLook;
  currency: string | null;
}
const PLAIN: Format = { look: 'number', currency: null };

/** What numbers look like, by the style of their cell. */
async function formatsOf(archive: Archive, path: string | null): Promise<Format[]> {
  const codes = new Map<number, string>();
  const ids: number[] = [];
  if (path === null) return [];
  let inCells = false;
  await readXml(await archive.open(path), {
    open(name, { numFmtId = '0', formatCode = '' }) {
      if (name === 'numFmt') codes.set(Number(numFmtId), formatCode);
      if (name === 'cellXfs') inCells = true;
      if (name === 'xf' && inCells) ids.push(Number(numFmtId));
    },
    close(name) {
      if (name === 'cellXfs') inCells = false;
    },
  });
  return ids.map((id) => ({ look: lookOf(id, codes.get(id)), currency: currencyOfFormat(codes.get(id)) }));
}

/** Which column a cell's address names, from 0; null when it names none. */
function columnOf(address: string | undefined): number | null {
  const letters = /^[A-Z]{1,3}/.exec(address ?? '')?.[0];
  if (!letters) return null;
  let n = 0;
  for (const letter of letters) n = n * 26 + letter.charCodeAt(0) - 64;
  return n - 1;
}

/** Rows that a sheet has at most. */
const MOST_ROWS = 1_048_576;

/** Which row a number names, from 1; null when it names none. */
function rowOf(text: string | undefined): number | null {
  const n = Number(text);
  return Number.isInteger(n) && n >= 1 && n <= MOST_ROWS ? n : null;
}

interface Ground {
  texts: readonly string[];
  formats: readonly Format[];
  from1904: boolean;
}

/** Collects rows from the XML of a sheet, and hands them on in batches. */
function rowCollector({ texts, formats, from1904 }: Ground, sink: RowSink) {
  let rows: RawRow[] = [];
  let row: RawRow = { number: 0, cells: [], fault: null };
  let column = -1;
  let cell: RawCell | null = null;
  let currency: string | null = null;
  let aside = false;
  let wanted = true;
  const put = (raw: RawCell) => {
    const read = readCell(raw, texts, from1904);
    while (row.cells.length < column) row.cells.push(null);
    row.cells[column] = read.cell;
    if (currency !== null && typeof read.cell === 'number') {
      row.currencies ??= {};
      row.currencies[column] = currency;
    }
    row.fault ??= read.fault;
  };
  const flush = () => {
    if (wanted && rows.length > 0) wanted = sink.take(rows);
    rows = [];
  };
  return {
    open(name: string, attributes: Record<string, string>) {
      if (name === 'row') {
        row = { number: rowOf(attributes.r) ?? row.number + 1, cells: [], fault: null };
        column = -1;
      } else if (name === 'c') {
        column = columnOf(attributes.r) ?? column + 1;
        checkWidth(column + 1);
        const format = formats[Number(attributes.s ?? 0)] ?? PLAIN;
        currency = format.currency;
        cell = {
          type: attributes.t ?? 'n',
          look: format.look,
          value: null,
          formula: false,
        };
      } else if (name === 'f' && cell) cell.formula = true;
      else if (name === 'rPh') aside = true;
    },
    close(name: string, text: string) {
      if (cell && name === 'v') cell.value = text;
      else if (name === 'rPh') aside = false;
      else if (cell && name === 't' && cell.type === 'inlineStr' && !aside) cell.value = (cell.value ?? '') + text;
      else if (cell && name === 'c') {
        put(cell);
        cell = null;
      } else if (name === 'row') {
        const cells: Cell[] = row.cells;
        while (cells.length > 0 && cells.at(-1) === null) cells.pop();
        if (cells.length > 0) rows.push(row);
        if (rows.length >= BATCH) flush();
      }
    },
    more: () => wanted,
    flush,
  };
}

async function withArchive<T>(path: string, use: (archive: Archive, book: Book) => Promise<T>): Promise<T> {
  const archive = await openArchive(path);
  try {
    return await use(archive, await bookOf(archive));
  } catch (error) {
    throw error instanceof FileError ? error : new FileError(DAMAGED);
  } finally {
    archive.close();
  }
}

/** The names of a workbook's sheets, in order. @throws FileError */
export const sheetsOf = (path: string): Promise<string[]> =>
  withArchive(path, async (_, book) => book.sheets.map((s) => s.name));

/** One sheet of a workbook (ECMA-376), streamed. Formulas count by the results that the file holds. */
export const readWorkbook: RowSource = (path, { sheet: wanted }, sink) =>
  withArchive(path, async (archive, book) => {
    const sheet = wanted === null ? book.sheets[0] : book.sheets.find((s) => s.name === wanted);
    if (!sheet) {
      throw new FileError(wanted === null ? 'This workbook has no sheet.' : `The workbook has no sheet “${wanted}”.`);
    }
    const texts = await textsOf(archive, book.texts);
    const formats = await formatsOf(archive, book.styles);
    const collector = rowCollector({ texts, formats, from1904: book.from1904 }, sink);
    await readXml(await archive.open(sheet.path), collector);
    collector.flush();
  });
