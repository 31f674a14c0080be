import { FILE } from '@chronicon/core/bounds';
import type { Reading } from '@chronicon/core/contract';
import type { Cell } from '@chronicon/core/feeds';

/** What keeps a file from being read, in words for the person who brought it. */
export class FileError extends Error {}

/** Row numbers count from 1, as spreadsheets do; a fault is what is wrong with a row that can be seen already. */
export interface RawRow {
  number: number;
  cells: Cell[];
  fault: string | null;
  /** By their place, the currencies that the formats of its cells write beside their numbers; left out for none. */
  currencies?: Record<number, string>;
}

/** Stops at a row that no table of figures has. @throws FileError */
export function checkWidth(cells: number): void {
  if (cells <= FILE.columns) return;
  throw new FileError(
    `This file has more than ${FILE.columns.toLocaleString('en')} columns. Upload only the ones you need. Nothing was imported.`,
  );
}

export interface RowSink {
  /** Takes rows in order; false when no more are wanted. */
  take(rows: RawRow[]): boolean;
  /** Bytes of the file that have been read. */
  progress(bytes: number): void;
}

/** Reads all rows of a file. @throws FileError */
export type RowSource = (path: string, reading: Reading, sink: RowSink) => Promise<void>;
