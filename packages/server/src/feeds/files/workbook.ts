import type { Readable } from 'node:stream';
import type { Cell } from '@chronicon/core/feeds';
import ExcelJS from 'exceljs';
import yauzl from 'yauzl';
import { checkWidth, FileError, type RawRow, type RowSource } from './rows.ts';

/** Bytes that a workbook may unpack to, and files in it. */
const MOST_UNPACKED = 400 * 1024 * 1024;
const MOST_ENTRIES = 5_000;

const TOO_LARGE = `This workbook unpacks to more than ${MOST_UNPACKED / 1024 / 1024} MB. Save the sheet as CSV and bring that.`;
const DAMAGED = 'This is no workbook that can be read: it is damaged, or locked with a password.';

/**
 * Unpacks everything once without keeping it: what an archive says of its size may be a lie.
 * @throws FileError when it is damaged, no workbook, or grows beyond all reason
 */
export function measureArchive(path: string): Promise<void> {
  return new Promise((resolve, reject) => {
    yauzl.open(path, { lazyEntries: true, validateEntrySizes: true }, (opened, zip) => {
      if (opened || !zip) return reject(new FileError(DAMAGED));
      let size = 0;
      let entries = 0;
      let isWorkbook = false;
      const fail = (message: string) => {
        zip.close();
        reject(new FileError(message));
      };
      zip.on('error', () => fail(DAMAGED));
      zip.on('end', () => (isWorkbook ? resolve() : reject(new FileError(DAMAGED))));
      zip.on('entry', (entry) => {
        isWorkbook ||= entry.fileName === 'xl/workbook.xml';
        if (++entries > MOST_ENTRIES || size + entry.uncompressedSize > MOST_UNPACKED) return fail(TOO_LARGE);
        zip.openReadStream(entry, (error: Error | null, stream?: Readable) => {
          if (error || !stream) return fail(DAMAGED);
          stream.on('data', (part: Buffer) => {
            size += part.length;
            if (size <= MOST_UNPACKED) return;
            stream.destroy();
            fail(TOO_LARGE);
          });
          stream.on('error', () => fail(DAMAGED));
          stream.on('end', () => zip.readEntry());
        });
      });
      zip.readEntry();
    });
  });
}

const day = (d: Date): string => {
  const iso = d.toISOString();
  return iso.endsWith('T00:00:00.000Z') ? iso.slice(0, 10) : iso.slice(0, 19).replace('T', ' ');
};

/** A cell as text or number; what cannot be taken is told as a fault. */
function cellOf(value: ExcelJS.CellValue): { cell: Cell; fault: string | null } {
  if (value === null || value === undefined) return { cell: null, fault: null };
  if (typeof value === 'string' || typeof value === 'number') return { cell: value, fault: null };
  if (typeof value === 'boolean') return { cell: String(value), fault: null };
  if (value instanceof Date) return { cell: day(value), fault: null };
  if ('error' in value)
    return { cell: String(value.error), fault: `holds an error of the spreadsheet (${value.error})` };
  if ('richText' in value) return { cell: value.richText.map((r) => r.text).join(''), fault: null };
  if ('hyperlink' in value && 'text' in value) return cellOf(value.text as ExcelJS.CellValue);
  if ('formula' in value || 'sharedFormula' in value) {
    const { result } = value as { result?: ExcelJS.CellValue };
    if (result === undefined || result === null) {
      return { cell: null, fault: 'holds a formula whose result is not in the file' };
    }
    return cellOf(result);
  }
  return { cell: null, fault: 'holds something that is neither text nor a number' };
}

const reader = (path: string) =>
  new ExcelJS.stream.xlsx.WorkbookReader(path, {
    worksheets: 'emit',
    sharedStrings: 'cache',
    styles: 'cache',
    hyperlinks: 'ignore',
    entries: 'ignore',
  });

/** The names of a workbook's sheets, in order. */
export async function sheetsOf(path: string): Promise<string[]> {
  const names: string[] = [];
  try {
    for await (const sheet of reader(path)) {
      names.push((sheet as unknown as { name: string }).name);
      // The sheet has to be read past, or the next is never reached.
      for await (const _ of sheet) {
        // Nothing of it is wanted here.
      }
    }
  } catch (error) {
    throw error instanceof FileError ? error : new FileError(DAMAGED);
  }
  return names;
}

/** One sheet of a workbook, streamed. Formulas count by the results that the file holds. */
export const readWorkbook: RowSource = async (path, { sheet: wanted }, sink) => {
  try {
    for await (const sheet of reader(path)) {
      if (wanted !== null && (sheet as unknown as { name: string }).name !== wanted) continue;
      let rows: RawRow[] = [];
      for await (const row of sheet) {
        const cells: Cell[] = [];
        let fault: string | null = null;
        row.eachCell({ includeEmpty: true }, (c) => {
          const read = cellOf(c.value);
          cells.push(read.cell);
          fault ??= read.fault;
        });
        while (cells.length > 0 && cells.at(-1) === null) cells.pop();
        checkWidth(cells.length);
        if (cells.length === 0) continue;
        rows.push({ number: row.number, cells, fault });
        if (rows.length < 500) continue;
        if (!sink.take(rows)) return;
        rows = [];
      }
      if (rows.length > 0) sink.take(rows);
      return;
    }
  } catch (error) {
    throw error instanceof FileError ? error : new FileError(DAMAGED);
  }
  throw new FileError(wanted === null ? 'This workbook has no sheet.' : `The workbook has no sheet “${wanted}”.`);
};
