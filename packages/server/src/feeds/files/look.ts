import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { Reading } from '@chronicon/core/contract';
import {
  ENCODING_LABELS,
  ENCODINGS,
  type Encoding,
  type FileHints,
  type FileMapping,
  guessSeparator,
  type Inspection,
  inspectRows,
  SEPARATORS,
} from '@chronicon/core/feeds';
import { measureArchive } from './archive.ts';
import { readDelimited } from './delimited.ts';
import { guessEncoding } from './encoding.ts';
import { readJsonLines } from './jsonLines.ts';
import { FileError, type RawRow, type RowSource } from './rows.ts';
import { rowsOfDays } from './rowsOfDays.ts';
import { readWorkbook, sheetsOf } from './workbook.ts';

/** Bytes and rows by which a file is judged. */
const SAMPLE = 256 * 1024;
const JUDGED_ROWS = 2_000;
/** Rows by which a sheet is told from others, and sheets that are looked at for it. */
const FEW_ROWS = 200;
const MOST_SHEETS = 20;
/** Rows kept for showing how they will be read. */
const KEPT_ROWS = 60;

const SOURCES: Record<Reading['format'], RowSource> = {
  text: readDelimited,
  xlsx: readWorkbook,
  jsonl: readJsonLines,
};

export const sourceOf = (format: Reading['format']): RowSource => SOURCES[format];

export interface FileLook {
  reading: Reading;
  inspection: Inspection;
  /** The first rows as they stand, the heading among them. */
  head: RawRow[];
}

function firstBytes(path: string): Buffer {
  const handle = openSync(path, 'r');
  try {
    const bytes = Buffer.alloc(Math.min(SAMPLE, fstatSync(handle).size));
    readSync(handle, bytes, 0, bytes.length, 0);
    return bytes;
  } finally {
    closeSync(handle);
  }
}

/** Tells what a file is by what is in it. @throws FileError for what is no table */
function formatOf(bytes: Buffer): Reading['format'] {
  if (bytes.length === 0) throw new FileError('The file is empty.');
  if (bytes.subarray(0, 4).equals(Buffer.from('PK\u0003\u0004', 'latin1'))) return 'xlsx';
  if (bytes.subarray(0, 4).equals(Buffer.from([0xd0, 0xcf, 0x11, 0xe0]))) {
    throw new FileError('This workbook has an old format or a password. Save it as XLSX without a password.');
  }
  const encoding = guessEncoding(bytes);
  if (encoding !== 'utf-16le' && encoding !== 'utf-16be' && bytes.includes(0)) {
    throw new FileError('Unsupported file. Upload CSV, TSV, XLSX or JSON Lines.');
  }
  const start = bytes
    .toString('latin1', 0, 200)
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart();
  if (start.startsWith('[')) {
    throw new FileError('This is a JSON array. Upload JSON Lines (one object per line).');
  }
  return start.startsWith('{') ? 'jsonl' : 'text';
}

const isSeparator = (text: string | null | undefined): text is Reading['separator'] =>
  (SEPARATORS as readonly string[]).includes(text ?? '');

const isEncoding = (text: string | null | undefined): text is Encoding =>
  (ENCODINGS as readonly string[]).includes(text ?? '');

/** Sheets leave empty cells at a row's end out; they are not ragged for that. */
function widen(rows: readonly RawRow[]): void {
  const width = Math.max(...rows.map((r) => r.cells.length));
  for (const { cells } of rows) while (cells.length < width) cells.push(null);
}

async function firstRows(path: string, reading: Reading, most: number): Promise<RawRow[]> {
  const rows: RawRow[] = [];
  await sourceOf(reading.format)(path, reading, {
    progress: () => undefined,
    take(more) {
      rows.push(...more.slice(0, most - rows.length));
      return rows.length < most;
    },
  });
  return rows;
}

/** The first sheet of a workbook that holds days and figures; null where none of those that are looked at does. */
async function sheetOfFigures(
  sheets: readonly string[],
  read: (sheet: string) => Promise<RawRow[]>,
  judge: (rows: readonly RawRow[]) => Inspection,
): Promise<string | null> {
  if (sheets.length < 2) return null;
  for (const sheet of sheets.slice(0, MOST_SHEETS)) {
    const rows = await read(sheet).catch((error: unknown) => {
      if (error instanceof FileError) return [];
      throw error;
    });
    if (rows.length === 0) continue;
    widen(rows);
    const uses = judge(rows).columns.map((c) => c.use.as);
    if (uses.includes('date') && uses.includes('measure')) return sheet;
  }
  return null;
}

/**
 * Looks at the first rows of a file: what it is, how it is written, what its columns seem to hold.
 * @param chosen what a person said of its encoding, separator and sheet
 * @throws FileError
 */
export async function lookAt(
  path: string,
  ask: {
    chosen: Pick<Reading, 'encoding' | 'separator' | 'sheet'> | null;
    hints: FileHints | null;
    before: FileMapping | null;
    zone: string;
    /** The client's. */
    currency: string;
  },
): Promise<FileLook> {
  const { chosen, hints, before, zone, currency } = ask;
  const bytes = firstBytes(path);
  const format = formatOf(bytes);
  if (format === 'xlsx') await measureArchive(path);
  const sheets = format === 'xlsx' ? await sheetsOf(path) : [];
  const hinted = hints?.encoding?.toLowerCase();
  const encoding =
    format !== 'text' ? 'utf-8' : (chosen?.encoding ?? (isEncoding(hinted) ? hinted : guessEncoding(bytes)));
  const text = new TextDecoder(encoding).decode(bytes);
  const separator = chosen?.separator ?? (isSeparator(hints?.separator) ? hints.separator : guessSeparator(text));
  const of = (sheet: string | null): Reading => ({ format, encoding, separator, sheet, sheets });
  const judge = (found: readonly RawRow[]) =>
    inspectRows(
      found.map((r) => r.cells),
      zone,
      hints,
      before,
      currency,
      (at) => [...new Set(found.flatMap((r) => r.currencies?.[at] ?? []))],
    );
  const sheet =
    chosen?.sheet ??
    (await sheetOfFigures(sheets, (s) => firstRows(path, of(s), FEW_ROWS), judge)) ??
    sheets[0] ??
    null;
  const reading = of(sheet);
  const rows = await firstRows(path, reading, JUDGED_ROWS);
  if (rows.length === 0) throw new FileError('The file has no rows.');
  if (format === 'xlsx') widen(rows);
  const inspection = judge(rows);
  if (!chosen && sheet !== null && sheet !== sheets[0]) {
    inspection.notices.push(`Using the sheet “${sheet}”: no earlier sheet has dates and numbers.`);
  }
  if (!encoding.startsWith('utf') && !chosen && !hinted) {
    inspection.notices.push(`Not UTF-8; read as ${ENCODING_LABELS[encoding]}. Check that names look right.`);
  }
  if (inspection.headerAt > 0) {
    inspection.notices.push(
      `Column headings are in row ${rows[inspection.headerAt]!.number}; rows above it are skipped.`,
    );
  }
  if (inspection.totals.length > 0 && inspection.mapping.totals !== 'rows') {
    const numbers = inspection.totals.slice(0, 3).map((i) => rows[i]!.number);
    inspection.notices.push(
      inspection.totals.length === 1
        ? `Row ${numbers[0]} is a total, so it is skipped: it would count the others twice.`
        : `${inspection.totals.length} rows are totals (row ${numbers.join(', ')}${inspection.totals.length > 3 ? ', …' : ''}), so they are skipped: they would count the others twice.`,
    );
  }
  return { reading, inspection, head: headOf(rows, inspection, format === 'xlsx') };
}

/** The first rows as they will be read, the heading first where there is one. */
function headOf(rows: readonly RawRow[], { headerAt, wide, columns }: Inspection, isSheet: boolean): RawRow[] {
  const from = Math.max(0, headerAt);
  if (!wide) return rows.slice(from, from + KEPT_ROWS);
  const heading: RawRow = { number: rows[from]!.number, cells: columns.map((c) => c.name), fault: null };
  const below = rows.slice(from + 1, from + KEPT_ROWS);
  return [heading, ...below.flatMap((row) => rowsOfDays(wide, row, isSheet))].slice(0, KEPT_ROWS);
}
