import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { FileError } from './rows.ts';

/** Bytes that a workbook may unpack to, and files in it. */
const MOST_UNPACKED = 400 * 1024 * 1024;
const MOST_ENTRIES = 5_000;

const TOO_LARGE = `This workbook unpacks to more than ${MOST_UNPACKED / 1024 / 1024} MB. Save the sheet as CSV and upload that.`;
export const DAMAGED = 'Can’t open this workbook: it’s damaged or password-protected.';

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

/** An archive whose files are read by name. */
export interface Archive {
  has(name: string): boolean;
  /** The bytes of a file as they are unpacked. */
  open(name: string): Promise<Readable>;
  close(): void;
}

/** Opens an archive by its directory; nothing is unpacked yet. @throws FileError when it is none */
export function openArchive(path: string): Promise<Archive> {
  return new Promise((resolve, reject) => {
    const fail = () => reject(new FileError(DAMAGED));
    yauzl.open(path, { lazyEntries: true, autoClose: false }, (opened, zip) => {
      if (opened || !zip) return fail();
      const entries = new Map<string, yauzl.Entry>();
      zip.on('error', fail);
      zip.on('entry', (entry: yauzl.Entry) => {
        entries.set(entry.fileName, entry);
        if (entries.size > MOST_ENTRIES) fail();
        else zip.readEntry();
      });
      zip.on('end', () =>
        resolve({
          has: (name) => entries.has(name),
          open: (name) =>
            new Promise((found, missing) => {
              const entry = entries.get(name);
              if (!entry) return missing(new FileError(DAMAGED));
              zip.openReadStream(entry, (error: Error | null, stream?: Readable) =>
                error || !stream ? missing(new FileError(DAMAGED)) : found(stream),
              );
            }),
          close: () => zip.close(),
        }),
      );
      zip.readEntry();
    });
  });
}
