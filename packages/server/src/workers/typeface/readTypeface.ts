import * as hb from 'harfbuzzjs';
import { assemble, openTrueType } from '../../render/trueType.ts';
import { lettersLacking } from './lettersLacking.ts';
import { quadraticOutlines } from './quadraticOutlines.ts';
import { checkOutlines, type Tables, tablesOf, viewOf } from './tables.ts';

/** What is wrong with a typeface, in words for whoever brought it. */
export class TypefaceError extends Error {}

/** A typeface as it is kept: one file of TrueType outlines, without what no page is drawn with. */
export interface ReadTypeface {
  data: Uint8Array;
  /** As it calls itself. */
  name: string;
  /** Whether it is heavy enough for what is to stand out. */
  isBold: boolean;
  /** What whoever chooses it ought to know. */
  said: string[];
}

/** Bytes that a compressed one may come to, and glyphs that one whose outlines have to be made anew may have. */
const MOST_BYTES = 20 * 1024 * 1024;
const MOST_CUBIC = 20_000;
const BOLD_FROM = 550;

/** Of a font file all that a page, a screen and shaping need (OpenType 1.9); colours, bitmaps and variations are left out. */
const KEPT = [
  'OS/2',
  'cmap',
  'head',
  'hhea',
  'maxp',
  'hmtx',
  'name',
  'post',
  'glyf',
  'loca',
  'cvt ',
  'fpgm',
  'prep',
  'gasp',
  'kern',
  'GPOS',
  'GSUB',
  'GDEF',
];
const NEEDED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp'];

/** Embedding permissions of OS/2 (OpenType 1.9, fsType). */
const RIGHTS = { restricted: 0x2, preview: 0x4, editable: 0x8, whole: 0x100, bitmaps: 0x200 };

const tagOf = (data: Uint8Array): string => String.fromCharCode(...data.subarray(0, 4));

/** The font within a compressed file (WOFF2, RFC 8081), once its head says that it is not too large. */
async function unpacked(data: Uint8Array): Promise<Uint8Array> {
  if (data.length < 48) throw new TypefaceError('The file is incomplete. Upload it again.');
  if (viewOf(data).getUint32(16) > MOST_BYTES)
    throw new TypefaceError(`Unpacked, it is larger than ${MOST_BYTES / 1024 ** 2} MB.`);
  const { default: decompress } = await import('woff2-encoder/decompress');
  return decompress(data);
}

/** @throws TypefaceError where its maker does not allow it to stand in documents */
function checkRights(tables: Tables): { whole: boolean } {
  const os2 = tables.get('OS/2');
  const type = os2 && os2.length > 10 ? viewOf(os2).getUint16(8) : 0;
  const allowed = (type & (RIGHTS.preview | RIGHTS.editable)) !== 0 || (type & RIGHTS.restricted) === 0;
  if (!allowed) throw new TypefaceError('This font’s licence forbids embedding. Use another font.');
  if (type & RIGHTS.bitmaps)
    throw new TypefaceError('This font’s licence allows only bitmap embedding. Use another font.');
  return { whole: (type & RIGHTS.whole) !== 0 };
}

/** What it is called: the name of the family, of those in English before any other. */
function nameIn(tables: Tables): string {
  const data = tables.get('name');
  if (!data) return '';
  const view = viewOf(data);
  const [count, strings] = [view.getUint16(2), view.getUint16(4)];
  const found = Array.from({ length: count }, (_, i) => {
    const at = 6 + i * 12;
    const [platform, language, id] = [view.getUint16(at), view.getUint16(at + 4), view.getUint16(at + 6)];
    const [length, offset] = [view.getUint16(at + 8), strings + view.getUint16(at + 10)];
    const rank = (id === 16 ? 0 : id === 1 ? 1 : 9) + (language === 0x409 ? 0 : 0.5);
    return { platform, rank, bytes: data.subarray(offset, offset + length) };
  })
    .filter((r) => r.platform === 3 && r.rank < 9)
    .sort((a, b) => a.rank - b.rank)[0];
  const name = found ? new TextDecoder('utf-16be').decode(found.bytes) : '';
  return name.replace(/[\p{Cc}\p{Cf}]/gu, '').trim();
}

/** Tables of a font of cubic outlines, with quadratic ones in their place. */
function withQuadratic(tables: Tables, data: Uint8Array): Tables {
  const count = viewOf(tables.get('maxp')!).getUint16(4);
  if (count > MOST_CUBIC)
    throw new TypefaceError(`It has ${count} glyphs: of this kind (OpenType with cubic curves) at most ${MOST_CUBIC}.`);
  const upem = viewOf(tables.get('head')!).getUint16(18);
  const font = new hb.Font(new hb.Face(new hb.Blob(data)));
  const { glyf, loca, maxp, bearings } = quadraticOutlines(font, count, upem);
  const hhea = tables.get('hhea')!.slice();
  const old = viewOf(tables.get('hmtx')!);
  const long = viewOf(hhea).getUint16(34);
  const hmtx = new DataView(new ArrayBuffer(count * 4));
  bearings.forEach((bearing, g) => {
    hmtx.setUint16(g * 4, old.getUint16(Math.min(g, long - 1) * 4));
    hmtx.setInt16(g * 4 + 2, bearing);
  });
  viewOf(hhea).setUint16(34, count);
  const head = tables.get('head')!.slice();
  viewOf(head).setInt16(50, 1);
  return new Map([
    ...tables,
    ['glyf', glyf],
    ['loca', loca],
    ['maxp', maxp],
    ['head', head],
    ['hhea', hhea],
    ['hmtx', new Uint8Array(hmtx.buffer)],
  ]);
}

/** Whether digits are as wide as each other, as they are or as the font has them for tables. */
function hasEvenDigits(font: hb.Font): boolean {
  const widths = [...'0123456789'].map((digit) => {
    const buffer = new hb.Buffer();
    buffer.addText(digit);
    buffer.guessSegmentProperties();
    hb.shape(font, buffer, [new hb.Feature('tnum', 1)]);
    return buffer.getGlyphPositions()[0]!.xAdvance;
  });
  return widths.every((w) => w === widths[0]);
}

/**
 * Reads a typeface that was brought: TrueType, OpenType with cubic curves, or either within WOFF2. What its maker allows is
 * held to; what damages a page is refused here and not when a report is due.
 * @throws TypefaceError in words
 */
export async function readTypeface(sent: Uint8Array): Promise<ReadTypeface> {
  const kind = tagOf(sent);
  if (kind === 'ttcf') throw new TypefaceError('The file contains several fonts. Upload a single font.');
  if (kind === 'wOFF') throw new TypefaceError('This is WOFF. Upload TTF, OTF or WOFF2.');
  const data = kind === 'wOF2' ? await unpacked(sent) : sent;
  const inner = tagOf(data);
  if (inner !== 'OTTO' && inner !== 'true' && inner !== '\u0000\u0001\u0000\u0000')
    throw new TypefaceError('Not a font file. Upload TTF, OTF or WOFF2.');
  const tables = tablesOf(data);
  const lacking = NEEDED.filter((t) => !tables.has(t));
  if (lacking.length > 0) throw new TypefaceError(`Damaged font: the table ${lacking.join(', ')} is missing.`);
  const { whole } = checkRights(tables);
  const isCubic = !tables.has('glyf');
  if (isCubic && !tables.has('CFF ')) {
    throw new TypefaceError('It has no printable outlines. Upload TTF, or a static OTF.');
  }
  const drawn = isCubic ? withQuadratic(tables, data) : tables;
  const kept = KEPT.flatMap((tag): [string, Uint8Array][] => (drawn.has(tag) ? [[tag, drawn.get(tag)!.slice()]] : []));
  const file = assemble(kept);
  checkOutlines(file);
  const type = openTrueType(file);
  const face = new hb.Face(new hb.Blob(file));
  const covers = new Set(face.collectUnicodes());
  const digits = [...'0123456789'].filter((c) => !covers.has(c.codePointAt(0)!));
  if (digits.length > 0) throw new TypefaceError('It has no digits: reports are mostly figures.');
  const weight = tables.get('OS/2');
  const said: string[] = [];
  const lacks = lettersLacking(covers);
  if (lacks.length > 0) said.push(`Letters of ${lacks.join(', ')} are missing: such texts use the default font.`);
  if (!hasEvenDigits(new hb.Font(face))) said.push('Digits vary in width, so columns of numbers may not align.');
  if (tables.has('fvar')) said.push('Variable font: the default style is used.');
  if (whole)
    said.push(
      `Its licence allows only full embedding: each PDF is up to ${Math.round(type.data.length / 1024)} kB larger.`,
    );
  return {
    data: file,
    name: nameIn(tables).slice(0, 60),
    isBold: weight !== undefined && weight.length > 6 && viewOf(weight).getUint16(4) >= BOLD_FROM,
    said,
  };
}
