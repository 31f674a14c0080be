import { PICTURE } from '@chronicon/core/bounds';
import type { Logo } from '@chronicon/core/report';
import sharp from 'sharp';
import { LogoError, parseSvgLogo } from './svgLogo.ts';

/** A picture as it is kept: decoded and written anew, so that nothing of what was sent reaches a reader unread. */
export type ReadPicture =
  | { kind: 'vector'; logo: Extract<Logo, { kind: 'vector' }> }
  | { kind: 'image'; type: 'image/png' | 'image/jpeg'; data: Uint8Array; width: number; height: number; pale: boolean }
  | { kind: 'typeface'; data: Uint8Array; name: string; isBold: boolean; said: string[] }
  | { kind: 'refused'; message: string };

/** What is brought: a picture as it is, for a page; cut to a small square, for a row of a table; as wide as mails; a typeface. */
export type KeptAs = 'whole' | 'small' | 'mail' | 'typeface';

/** Points each way beyond which a picture is made smaller: more than a page at 600 to the inch. */
const KEPT_SIDE = 2_400;
/** Points each way of a small one: as large as a row of a table at 600 to the inch. */
const SMALL_SIDE = 240;
/** What a small one may be made from: it is written as JPEG, whatever it was. */
const SMALL_FROM: readonly string[] = ['jpeg', 'png', 'webp', 'gif'];
/** Seconds that decoding may take within the library itself. */
const SECONDS = 6;

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);

function typeOf(data: Buffer): 'image/png' | 'image/jpeg' | 'svg' | null {
  if (data.subarray(0, 8).equals(PNG)) return 'image/png';
  if (data[0] === 0xff && data[1] === 0xd8 && data[2] === 0xff) return 'image/jpeg';
  const start = data.subarray(0, 1000).toString('utf8');
  return /<svg[\s>]/.test(start) || /^\s*(<\?xml|<!--)/.test(start) ? 'svg' : null;
}

/** The head alone: what is too large is never decoded. @throws LogoError */
async function checkHead(data: Buffer, formats: readonly string[]): Promise<void> {
  const {
    width = 0,
    height = 0,
    format,
  } = await sharp(data, { limitInputPixels: false, failOn: 'warning' }).metadata();
  if (!formats.includes(format)) throw new LogoError('Unsupported image.');
  if (width > PICTURE.side || height > PICTURE.side || width * height > PICTURE.pixels) {
    throw new LogoError(
      `The picture is ${width} × ${height} points large. Save it smaller: at most ${PICTURE.side} each way, and ${PICTURE.pixels / 1_000_000} million in all.`,
    );
  }
}

async function readSmall(data: Buffer): Promise<ReadPicture> {
  await checkHead(data, SMALL_FROM);
  const { data: bytes, info } = await sharp(data, { limitInputPixels: PICTURE.pixels, failOn: 'warning' })
    .timeout({ seconds: SECONDS })
    .rotate()
    .resize({ width: SMALL_SIDE, height: SMALL_SIDE, fit: 'cover' })
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .jpeg({ quality: 82 })
    .toBuffer({ resolveWithObject: true });
  // What is pale has an edge of its own: it is a picture, no mark.
  return { kind: 'image', type: 'image/jpeg', data: bytes, width: info.width, height: info.height, pale: false };
}

/** Twice the points that a mail is wide, for sharp screens; lower than a text beneath it is pushed out of sight. */
const MAIL_HEAD = { width: 1_120, height: 560 };

async function readMailHead(data: Buffer): Promise<ReadPicture> {
  await checkHead(data, ['png', 'jpeg']);
  const { data: bytes, info } = await sharp(data, { limitInputPixels: PICTURE.pixels, failOn: 'warning' })
    .timeout({ seconds: SECONDS })
    .rotate()
    .resize({ ...MAIL_HEAD, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .jpeg({ quality: 82 })
    .toBuffer({ resolveWithObject: true });
  return { kind: 'image', type: 'image/jpeg', data: bytes, width: info.width, height: info.height, pale: false };
}

async function readImage(data: Buffer, type: 'image/png' | 'image/jpeg'): Promise<ReadPicture> {
  await checkHead(data, ['png', 'jpeg']);
  const decoded = sharp(data, { limitInputPixels: PICTURE.pixels, failOn: 'warning' })
    .timeout({ seconds: SECONDS })
    .rotate()
    .resize({ width: KEPT_SIDE, height: KEPT_SIDE, fit: 'inside', withoutEnlargement: true });
  const written = type === 'image/png' ? decoded.png({ compressionLevel: 9 }) : decoded.jpeg({ quality: 92 });
  const { data: bytes, info } = await written.toBuffer({ resolveWithObject: true });
  return { kind: 'image', type, data: bytes, width: info.width, height: info.height, pale: await isPale(bytes) };
}

/** Points each way in which paleness is looked for; relative luminance beyond which a point is hardly seen on white. */
const LOOKED_AT = 160;
const PALE = 0.75;
/** Points that are less than half there are not looked at. */
const THERE = 128;
/** Of what is there, how much has to be pale: of a drawing on nothing nearly all; of a picture with a ground, all of it. */
const ENOUGH = { drawing: 0.97, picture: 0.999 };

/** Whether a picture would vanish on white paper. */
async function isPale(bytes: Buffer): Promise<boolean> {
  const { data } = await sharp(bytes)
    .resize({ width: LOOKED_AT, height: LOOKED_AT, fit: 'inside', withoutEnlargement: true, kernel: 'nearest' })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let [there, pale] = [0, 0];
  const linear = (v: number) => (v <= 10 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4);
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3]! < THERE) continue;
    there++;
    if (0.2126 * linear(data[i]!) + 0.7152 * linear(data[i + 1]!) + 0.0722 * linear(data[i + 2]!) > PALE) pale++;
  }
  const isDrawing = there < data.length / 4;
  return there > 0 && pale / there >= (isDrawing ? ENOUGH.drawing : ENOUGH.picture);
}

/** Only what is brought as one loads what shapes text. */
async function readFace(data: Buffer): Promise<ReadPicture> {
  const { readTypeface, TypefaceError } = await import('./typeface/readTypeface.ts');
  try {
    return { kind: 'typeface', ...(await readTypeface(data)) };
  } catch (error) {
    const message =
      error instanceof TypefaceError ? error.message : 'The font is damaged. Upload it again, or in another format.';
    return { kind: 'refused', message };
  }
}

/** Reads a picture or a typeface that was uploaded or fetched; what is wrong with it comes back in words. */
export default async function readPicture({ sent, as }: { sent: Uint8Array; as: KeptAs }): Promise<ReadPicture> {
  const data = Buffer.from(sent.buffer, sent.byteOffset, sent.byteLength);
  try {
    if (as === 'typeface') return await readFace(data);
    if (as === 'small') return await readSmall(data);
    const type = typeOf(data);
    if (type === null) throw new LogoError('Unsupported image. Use SVG, PNG or JPEG.');
    if (as === 'mail' && type !== 'svg') return await readMailHead(data);
    if (type === 'svg') return { kind: 'vector', logo: parseSvgLogo(data.toString('utf8')) };
    return await readImage(data, type);
  } catch (error) {
    if (error instanceof LogoError) return { kind: 'refused', message: error.message };
    const message = 'The picture is damaged or unsupported. Save it again as PNG.';
    return { kind: 'refused', message };
  }
}
