import { promisify } from 'node:util';
import { brotliCompress, brotliDecompressSync, constants } from 'node:zlib';

const compress = promisify(brotliCompress);

/** What a mail says, in both of its forms. */
export interface MailBody {
  html: string;
  text: string;
}

/** Packs hard enough for mails, which repeat themselves, and fast enough for a run of thousands. */
const QUALITY = 4;

/** A mail's two forms as they are kept, a fifth of their length; packed outside the thread that answers people. */
export const packed = ({ html, text }: MailBody): Promise<Buffer> =>
  compress(JSON.stringify([html, text]), {
    params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY, [constants.BROTLI_PARAM_MODE]: constants.BROTLI_MODE_TEXT },
  });

/** @throws Error for what {@link packed} has not made */
export function unpacked(body: Uint8Array): MailBody {
  const [html, text] = JSON.parse(brotliDecompressSync(body).toString('utf8')) as [string, string];
  return { html, text };
}
