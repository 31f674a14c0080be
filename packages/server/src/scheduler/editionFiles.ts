import { type FrozenForMail, readFrozen } from '@chronicon/core/page';
import type { Format, MailFile } from '@chronicon/core/report';
import { LRUCache } from 'lru-cache';
import { fileOfPicture, pictureType } from '../mail/mailPictures.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import type { Files } from '../store/files.ts';
import type { Tools } from './tools.ts';

/** Of editions that were drawn a moment ago; a file's name says what is in it, so that none is out of date. */
const lately = new LRUCache<string, FrozenForMail>({ max: 50 });

export const keepForMail = (frozen: string, forMail: FrozenForMail): void => {
  lately.set(frozen, forMail);
};

/**
 * What the mails of a drawn edition are written from.
 * @throws Error where its file is missing or damaged
 */
export const forMailOf = ({ files }: Pick<Tools, 'files'>, { id, frozen }: EditionRow): FrozenForMail =>
  lately.get(frozen!) ?? readFrozen(files.read(frozen!).toString('utf8'), `the edition ${id}`);

/** Bytes of files that are kept for the mails of an edition's other readers. */
const MOST_BYTES = 8_000_000;
const contents = new LRUCache<string, { content: Buffer; mark: string }>({
  maxSize: MOST_BYTES,
  sizeCalculation: ({ content }) => content.length || 1,
});

/** @throws Error where it is missing or damaged */
function contentOf(files: Files, hash: string): Buffer {
  const mark = files.markOf(hash);
  const known = contents.get(hash);
  if (known && known.mark === mark) return known.content;
  const content = files.read(hash);
  if (mark !== null) contents.set(hash, { content, mark });
  return content;
}

export type StoredPdf = { ok: true; pdf: Buffer } | { ok: false; reason: string };

/**
 * The PDF of a drawn edition. One that is missing or damaged is painted again from the frozen scene: the same bytes, or
 * it does not count.
 */
export async function pdfOf(tools: Pick<Tools, 'files' | 'workers' | 'log'>, e: EditionRow): Promise<StoredPdf> {
  const { files, workers, log } = tools;
  try {
    return { ok: true, pdf: contentOf(files, e.pdf!) };
  } catch (err) {
    log.warn({ err, edition: e.id }, 'the PDF is not what it should be');
  }
  try {
    const pdf = Buffer.from(await workers.repaint(e.frozen!, e.created_at));
    if (files.hashOf(pdf) === e.pdf) {
      await files.keep(pdf);
      return { ok: true, pdf };
    }
  } catch (err) {
    log.error({ err, edition: e.id }, 'the PDF could not be painted again');
  }
  const reason =
    'Its PDF is missing or damaged and couldn’t be recreated. Restore the data folder’s files from backup, then try again.';
  return { ok: false, reason };
}

const TYPES: Record<Format, string> = {
  csv: 'text/csv',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};

/** Files of figures that were made a moment ago: they are the same for every reader, and made once for all of them. */
const figures = new LRUCache<string, Promise<Buffer>>({ max: 20 });

function figuresOf({ workers }: Pick<Tools, 'workers'>, e: EditionRow, format: Format): Promise<Buffer> {
  // What is frozen is named after what is in it: none of these is ever out of date.
  const key = `${e.frozen} ${format} ${e.created_at}`;
  const known = figures.get(key);
  if (known) return known;
  const made = workers.figuresFile(e.frozen!, format, e.created_at);
  figures.set(key, made);
  made.catch(() => figures.delete(key));
  return made;
}

/** The figures of an edition's pages as its schedule has them sent, beside a PDF of that name: the same bytes each time. */
export async function tablesOf(tools: Pick<Tools, 'workers'>, e: EditionRow, pdfName: string) {
  const { formats = [] } = ordersOf(e);
  const name = pdfName.replace(/\.pdf$/, '');
  return Promise.all(
    formats.map(async (format) => ({
      fileName: `${name}.${format}`,
      type: TYPES[format],
      content: await figuresOf(tools, e, format),
    })),
  );
}

export interface CarriedPicture {
  cid: string;
  type: string;
  content: Buffer;
}

/**
 * Pictures that go with a mail, by what its HTML calls them; or why one is not to be had. Those that were drawn for it are drawn
 * again from what is frozen.
 */
export async function mailPictures(
  { files, workers, log }: Pick<Tools, 'files' | 'workers' | 'log'>,
  e: EditionRow,
  named: readonly string[],
): Promise<{ ok: true; pictures: CarriedPicture[] } | { ok: false; reason: string }> {
  const read = () =>
    named.map((cid): CarriedPicture => {
      const content = contentOf(files, fileOfPicture(cid));
      return { cid, type: pictureType(content), content };
    });
  try {
    return { ok: true, pictures: read() };
  } catch (err) {
    log.warn({ err, edition: e.id }, 'a picture of a mail is not what it should be');
  }
  try {
    for (const picture of await workers.pictures(e.frozen!)) await files.keep(Buffer.from(picture));
    return { ok: true, pictures: read() };
  } catch (err) {
    log.error({ err, edition: e.id }, 'a picture of a mail could not be drawn again');
    const reason =
      'A picture of its email is missing or damaged. Restore the data folder’s files from backup, or upload the picture again under Brand, then try again.';
    return { ok: false, reason };
  }
}

/** Files that go with every mail of a schedule, as it names them; or which one is not to be had. */
export function mailFiles(
  { files, log }: Pick<Tools, 'files' | 'log'>,
  named: readonly MailFile[],
): { ok: true; attachments: { fileName: string; type: string; content: Buffer }[] } | { ok: false; reason: string } {
  let name = '';
  try {
    const attachments = named.map((f) => {
      name = f.name;
      return { fileName: f.name, type: f.type, content: contentOf(files, f.file) };
    });
    return { ok: true, attachments };
  } catch (err) {
    log.error({ err }, 'a file of a mail is not what it should be');
    return {
      ok: false,
      reason: `“${name}”, attached to its email, is missing or damaged. Upload it again in the schedule, then try again.`,
    };
  }
}
