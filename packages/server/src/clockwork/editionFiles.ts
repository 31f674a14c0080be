import type { EditionRow } from '../store/editions.ts';
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
