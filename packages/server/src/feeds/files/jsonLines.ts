import { createReadStream } from 'node:fs';
import type { Cell } from '@chronicon/core/feeds';
import { FileError, type RawRow, type RowSource } from './rows.ts';

const BLOCK = 256 * 1024;
const LONGEST_LINE = 4 * 1024 * 1024;
/** Lines by which the columns are known; what only later lines have is left out, and said so. */
const HEAD_LINES = 1_000;

const cellOf = (value: unknown): Cell =>
  value === null || value === undefined
    ? null
    : typeof value === 'number'
      ? value
      : typeof value === 'string'
        ? value
        : JSON.stringify(value);

type Line = { number: number; object: Record<string, unknown> | null };

async function* lines(path: string, read: (bytes: number) => void): AsyncGenerator<Line> {
  const decoder = new TextDecoder('utf-8');
  let rest = '';
  let number = 0;
  let bytes = 0;
  const parse = (text: string): Line => {
    number++;
    try {
      const found: unknown = JSON.parse(text);
      const isObject = typeof found === 'object' && found !== null && !Array.isArray(found);
      return { number, object: isObject ? (found as Record<string, unknown>) : null };
    } catch {
      return { number, object: null };
    }
  };
  for await (const block of createReadStream(path, { highWaterMark: BLOCK })) {
    bytes += (block as Buffer).length;
    read(bytes);
    const parts = (rest + decoder.decode(block as Buffer, { stream: true })).replace(/^\ufeff/, '').split('\n');
    rest = parts.pop()!;
    if (rest.length > LONGEST_LINE) throw new FileError(`Line ${number + 1} has no end. Nothing was imported.`);
    for (const text of parts) if (text.trim() !== '') yield parse(text);
  }
  if (rest.trim() !== '') yield parse(rest);
}

/** JSON lines (one object a line): the first row names the columns, as in a table. */
export const readJsonLines: RowSource = async (path, _reading, sink) => {
  const head: Line[] = [];
  let columns: string[] | null = null;
  const toRow = ({ number, object }: Line): RawRow =>
    object
      ? {
          number: number + 1,
          cells: columns!.map((c) => cellOf(Object.hasOwn(object, c) ? object[c] : null)),
          fault: null,
        }
      : { number: number + 1, cells: [], fault: 'is not a JSON object' };
  const begin = (): boolean => {
    columns = [...new Set(head.flatMap((l) => Object.keys(l.object ?? {})))].slice(0, 500);
    return sink.take([{ number: 1, cells: [...columns], fault: null }, ...head.map(toRow)]);
  };
  let waiting: RawRow[] = [];
  for await (const line of lines(path, (b) => sink.progress(b))) {
    if (columns === null) {
      head.push(line);
      if (head.length < HEAD_LINES) continue;
      if (!begin()) return;
      continue;
    }
    waiting.push(toRow(line));
    if (waiting.length < 500) continue;
    if (!sink.take(waiting)) return;
    waiting = [];
  }
  if (columns === null) begin();
  else if (waiting.length > 0) sink.take(waiting);
};
