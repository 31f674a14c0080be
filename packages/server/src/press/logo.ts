import type { Logo } from '@chronicon/core/report';
import PDFDocument from 'pdfkit';
import type { Files } from '../store/files.ts';
import { LogoError, parseSvgLogo } from './svgLogo.ts';

export const LOGO_LIMIT = 5 * 1024 * 1024;

function typeOf(data: Buffer): 'image/png' | 'image/jpeg' | 'svg' | null {
  if (data.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return 'image/png';
  if (data[0] === 0xff && data[1] === 0xd8 && data[2] === 0xff) return 'image/jpeg';
  const start = data.subarray(0, 1000).toString('utf8');
  return /<svg[\s>]/.test(start) || /^\s*(<\?xml|<!--)/.test(start) ? 'svg' : null;
}

/** Draws the picture into a PDF that nobody keeps: what the press cannot draw is no logo. */
async function tryDrawing(data: Buffer): Promise<{ width: number; height: number }> {
  // openImage is part of pdfkit's documented interface, though its types lack it.
  const pdf = new PDFDocument() as PDFKit.PDFDocument & { openImage(src: Buffer): { width: number; height: number } };
  pdf.resume();
  const ended = new Promise<void>((resolve, reject) => {
    pdf.on('end', resolve);
    pdf.on('error', reject);
  });
  const image = pdf.openImage(data);
  pdf.image(data, 0, 0, { width: 100 });
  pdf.end();
  await ended;
  return { width: image.width, height: image.height };
}

/**
 * Takes an uploaded file as a logo: an SVG as paths, a PNG or JPEG as a file of the data folder.
 * @throws LogoError for a file that is none of them or over 5 MB
 */
export async function readLogo(data: Buffer, files: Files): Promise<Logo> {
  if (data.length > LOGO_LIMIT) throw new LogoError('The file is larger than 5 MB.');
  const type = typeOf(data);
  if (type === null) throw new LogoError('This is no picture that can be printed: use SVG, PNG or JPEG.');
  if (type === 'svg') return parseSvgLogo(data.toString('utf8'));
  try {
    const size = await tryDrawing(data);
    return { kind: 'image', file: files.write(data), type, ...size };
  } catch {
    throw new LogoError('The picture is damaged or of a kind that cannot be printed. Save it anew as PNG.');
  }
}
