import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { checkWidth, FileError, type RawRow, type RowSource } from './rows.ts';

const BLOCK = 256 * 1024;
/** Characters that may come without the end of a row among them. */
const LONGEST_ROW = 4 * 1024 * 1024;

const OPEN_QUOTE = 'missing closing quotation mark';
const NOT_TEXT = 'has bytes that are not text in the chosen encoding';

/** Text of a file, decoded block by block. */
async function* decoded(path: string, encoding: string, read: (bytes: number) => void): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  let bytes = 0;
  for await (const block of createReadStream(path, { highWaterMark: BLOCK })) {
    bytes += (block as Buffer).length;
    read(bytes);
    yield decoder.decode(block as Buffer, { stream: true });
  }
  yield decoder.decode();
}

/** CSV, TSV and their like (RFC 4180, other separators too): streamed, never whole in memory. */
export const readDelimited: RowSource = (path, { encoding, separator }, sink) =>
  new Promise((resolve, reject) => {
    let number = 0;
    let waiting = 0;
    let stopped = false;
    async function* watched(): AsyncGenerator<string> {
      for await (const text of decoded(path, encoding, (b) => sink.progress(b))) {
        if (stopped) return;
        waiting += text.length;
        if (waiting > LONGEST_ROW) {
          throw new FileError(`Row ${number + 1}: ${OPEN_QUOTE}. Nothing was imported.`);
        }
        if (text !== '') yield text;
      }
    }
    const source = Readable.from(watched(), { highWaterMark: 1 });
    Papa.parse<string[]>(source, {
      delimiter: separator,
      chunk({ data, errors }, parser) {
        if (stopped) return;
        if (data.length > 0) waiting = 0;
        const faults = new Map<number, string>();
        for (const e of errors) {
          if (e.type === 'Quotes' && e.row !== undefined) faults.set(e.row, OPEN_QUOTE);
        }
        const rows: RawRow[] = [];
        try {
          for (const cells of data) checkWidth(cells.length);
        } catch (error) {
          stopped = true;
          // First of all: what is aborted says that it is complete.
          reject(error);
          parser.abort();
          source.destroy();
          return;
        }
        for (let i = 0; i < data.length; i++) {
          const cells = data[i]!;
          number++;
          // A line with nothing in it is no row.
          if (cells.length === 1 && cells[0] === '') continue;
          let fault = faults.get(i) ?? null;
          if (fault === null && cells.some((c) => c.includes('\ufffd'))) fault = NOT_TEXT;
          rows.push({ number, cells, fault });
        }
        if (!sink.take(rows)) {
          stopped = true;
          parser.abort();
          source.destroy();
          resolve();
        }
      },
      complete: () => resolve(),
      error: (error: Error) => (stopped ? resolve() : reject(error)),
    });
  });
