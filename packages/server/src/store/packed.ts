import { promisify } from 'node:util';
import { brotliCompress, brotliDecompressSync, constants } from 'node:zlib';
import { z } from 'zod';
import { stored } from './stored.ts';

const compress = promisify(brotliCompress);

/** What a mail says, in both of its forms. */
export interface MailBody {
  html: string;
  text: string;
  /** What its HTML calls its pictures (RFC 2392), each once. */
  pictures: readonly string[];
}

/** Packs hard enough for mails, which repeat themselves, and fast enough for a run of thousands. */
const QUALITY = 4;

/** What a mail says as it is kept, a fifth of its length; packed outside the thread that answers people. */
export const packed = ({ html, text, pictures }: MailBody): Promise<Buffer> =>
  compress(JSON.stringify([html, text, pictures]), {
    params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY, [constants.BROTLI_PARAM_MODE]: constants.BROTLI_MODE_TEXT },
  });

const bodyIn = stored(
  z.union([z.tuple([z.string(), z.string(), z.array(z.string())]), z.tuple([z.string(), z.string()])]),
  'what a mail says',
);

/** The pictures of HTML that was kept without a list of them, by earlier versions. */
export const picturesNamedIn = (html: string): string[] => [
  ...new Set([...html.matchAll(/src="cid:([0-9a-f]{64}@[a-z]+)"/g)].map(([, cid]) => cid!)),
];

/** @throws Error for what {@link packed} has not made */
export function unpacked(body: Uint8Array): MailBody {
  const [html, text, pictures = picturesNamedIn(html)] = bodyIn(brotliDecompressSync(body).toString('utf8'));
  return { html, text, pictures };
}
