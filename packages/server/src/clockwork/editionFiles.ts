import { readFrozen } from '@chronicon/core/page';
import type { Format } from '@chronicon/core/report';
import { picturesIn } from '../post/mailText.ts';
import { figuresFile } from '../press/attachedFigures.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import type { Tools } from './tools.ts';

export type Kept = { ok: true; pdf: Buffer } | { ok: false; reason: string };

/**
 * The PDF of a drawn edition. One that is missing or damaged is painted again from the frozen scene: the same bytes, or
 * it does not count.
 */
export async function pdfOf(tools: Pick<Tools, 'files' | 'press' | 'log'>, e: EditionRow): Promise<Kept> {
  const { files, press, log } = tools;
  try {
    return { ok: true, pdf: files.read(e.pdf!) };
  } catch (err) {
    log.warn({ err, edition: e.id }, 'the PDF is not what it should be');
  }
  try {
    const pdf = Buffer.from(await press.repaint(e.frozen!, e.created_at));
    if (files.hashOf(pdf) === e.pdf) {
      files.write(pdf);
      return { ok: true, pdf };
    }
  } catch (err) {
    log.error({ err, edition: e.id }, 'the PDF could not be painted again');
  }
  const reason =
    'Its PDF is missing or damaged, and could not be painted again. Put the data folder’s files back from a copy, then try again.';
  return { ok: false, reason };
}

const TYPES: Record<Format, string> = {
  csv: 'text/csv',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};

/** The figures of an edition's pages as its schedule has them sent, beside a PDF of that name: the same bytes each time. */
export async function tablesOf({ files }: Pick<Tools, 'files'>, e: EditionRow, pdfName: string) {
  const { formats = [] } = ordersOf(e);
  if (formats.length === 0) return [];
  const frozen = readFrozen(files.read(e.frozen!).toString('utf8'), `the edition ${e.id}`);
  const name = pdfName.replace(/\.pdf$/, '');
  return Promise.all(
    formats.map(async (format) => ({
      fileName: `${name}.${format}`,
      type: TYPES[format],
      content: await figuresFile(frozen, format, e.created_at),
    })),
  );
}

/** Pictures that go with a mail, as its HTML names them; or why one is not to be had. */
export function mailPictures(
  { files, log }: Pick<Tools, 'files' | 'log'>,
  html: string,
): { ok: true; pictures: { cid: string; type: string; content: Buffer }[] } | { ok: false; reason: string } {
  try {
    return {
      ok: true,
      pictures: picturesIn(html).map(({ cid, file }) => ({ cid, type: 'image/jpeg', content: files.read(file) })),
    };
  } catch (err) {
    log.error({ err }, 'the picture of a mail is not what it should be');
    const reason =
      'The picture at the head of its mail is missing or damaged. Put the data folder’s files back from a copy, or bring the same picture again under Brand, then try again.';
    return { ok: false, reason };
  }
}
