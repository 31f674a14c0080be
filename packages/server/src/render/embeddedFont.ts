import { isOwnFace, type SceneFace } from '@chronicon/core/page';
import { LRUCache } from 'lru-cache';
import { addStream, type Pdf, Raw, type Ref } from './pdfInternals.ts';
import type { Glyph, Shaped, Shaper } from './shaper.ts';
import { openTrueType, type TrueType } from './trueType.ts';

/** Faces that people brought, held open at once by one thread. */
const OWN_OPEN = 16;
const opened = new Map<SceneFace, TrueType>();
const brought = new LRUCache<SceneFace, TrueType>({ max: OWN_OPEN });

function trueTypeOf(face: SceneFace, shaper: Shaper): TrueType {
  const known = isOwnFace(face) ? brought : opened;
  const found = known.get(face) ?? openTrueType(shaper.dataOf(face));
  known.set(face, found);
  return found;
}

/** Faces with serifs, as far as they come with the product: readers choose another one by it where they have to. */
const SERIF = /^(serif|lora|robotoSlab)/;
const BOLD = /(Bold|-600)$/;

const HEX = Array.from({ length: 0x1_0000 }, (_, n) => n.toString(16).padStart(4, '0'));
const hex4 = (n: number): string => HEX[n]!;

function utf16Hex(text: string): string {
  let out = '';
  for (let i = 0; i < text.length; i++) out += hex4(text.charCodeAt(i));
  return out;
}

/** Six letters that make a subset's name its own (ISO 32000-1 §9.6.4), made from what it holds. */
function subsetTag(codes: Iterable<number>): string {
  let hash = 17;
  for (const c of codes) hash = (Math.imul(hash, 31) + c) >>> 0;
  return Array.from({ length: 6 }, (_, i) => String.fromCharCode(65 + (Math.floor(hash / 26 ** i) % 26))).join('');
}

/** Where the glyph of each code stands in its file, two bytes each, from code 0 on (ISO 32000-1 §9.7.4.2). */
function placesOf(glyphs: readonly number[]): Uint8Array {
  const view = new DataView(new ArrayBuffer((glyphs.length + 1) * 2));
  glyphs.forEach((glyph, i) => {
    view.setUint16((i + 1) * 2, glyph);
  });
  return new Uint8Array(view.buffer);
}

/** The maps of a ToUnicode CMap, at most 100 lines a section (ISO 32000-1 §9.10.3). */
function toUnicode(texts: string[]): string {
  // A glyph that an earlier one of its cluster stands for: a zero-width space, since every code has to mean something.
  const lines = texts.map((t, i) => [i + 1, t === '' ? '\u200b' : t] as const);
  const sections: string[] = [];
  for (let i = 0; i < lines.length; i += 100) {
    const part = lines.slice(i, i + 100);
    sections.push(
      `${part.length} beginbfchar\n${part.map(([c, t]) => `<${hex4(c)}> <${utf16Hex(t)}>`).join('\n')}\nendbfchar`,
    );
  }
  return `/CIDInit /ProcSet findresource begin
12 dict begin
begincmap
/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def
/CMapName /Adobe-Identity-UCS def
/CMapType 2 def
1 begincodespacerange
<0000> <ffff>
endcodespacerange
${sections.join('\n')}
endcmap
CMapName currentdict /CMap defineresource pop
end
end`;
}

/**
 * One face as it is embedded in one document. Each pair of glyph and text gets a code of its own, so that a glyph
 * that serves two characters (space and no-break space) is copied as the right one.
 */
export class EmbeddedFont {
  readonly ref: Ref;
  /** Of texts without marks, which are shown the same at every size: heads, feet and labels repeat themselves. */
  private readonly shown = new Map<Shaped, string>();
  private readonly codes = new Map<number, Map<string, number>>();
  private readonly glyphs: number[] = [];
  private readonly texts: string[] = [];
  private readonly face: TrueType;

  constructor(
    private readonly pdf: Pdf,
    private readonly name: SceneFace,
    shaper: Shaper,
  ) {
    this.ref = pdf.ref();
    this.face = trueTypeOf(name, shaper);
  }

  private codeOf(glyph: Glyph): number {
    let byText = this.codes.get(glyph.id);
    if (!byText) {
      byText = new Map();
      this.codes.set(glyph.id, byText);
    }
    let code = byText.get(glyph.text);
    if (code === undefined) {
      this.glyphs.push(glyph.id);
      this.texts.push(glyph.text);
      code = this.glyphs.length;
      byText.set(glyph.text, code);
    }
    return code;
  }

  /**
   * The operators that show a shaped text at `size` points: codes, and kerning where shaping moved away from the advance.
   * Marks come after all letters, each at its place, and say nothing: the letter beneath them stands for both
   * (ISO 32000-1 §14.9.4), so that what is copied has neither gaps nor characters twice.
   */
  show(shaped: Shaped, size: number): string {
    const before = this.shown.get(shaped);
    if (before !== undefined) return before;
    const marks: { glyph: Glyph; x: number }[] = [];
    let out = '[<';
    /** Where the pen is, and where the next glyph begins, in font units. */
    let pen = 0;
    let x = 0;
    const put = (glyph: Glyph, at: number) => {
      if (at !== pen) out += `>${Math.round(((pen - at) * 1000) / this.face.unitsPerEm)}<`;
      out += hex4(this.codeOf(glyph));
      pen = at + this.face.advanceOf(glyph.id);
    };
    for (const glyph of shaped.glyphs) {
      if (glyph.text === '' && glyph.advance === 0) marks.push({ glyph, x: x + glyph.dx });
      else put(glyph, x + glyph.dx);
      x += glyph.advance;
    }
    out += '>] TJ';
    if (marks.length === 0) {
      out = out.replaceAll('<>', '');
      this.shown.set(shaped, out);
    } else {
      out += ' /Span <</ActualText ()>> BDC';
      for (const { glyph, x: at } of marks) {
        out += ` ${Math.round((glyph.dy * size * 1000) / this.face.unitsPerEm) / 1000} Ts [<`;
        put(glyph, at);
        out += '>] TJ';
      }
      out = `${out} 0 Ts EMC`.replaceAll('<>', '');
    }
    return out;
  }

  /** Writes the font's objects; call once, after all text. */
  finish(): void {
    const { pdf, face } = this;
    const scale = (n: number) => Math.round((n * 1000) / face.unitsPerEm);
    // What may not be parted is embedded as it is, and says where each glyph stands in it.
    const { mayBeParted } = face;
    const name = mayBeParted ? `${subsetTag(this.glyphs)}+Text-${this.name}` : `Text-${this.name}`;
    const file = mayBeParted ? face.subset(this.glyphs) : face.data;
    const fontFile = addStream(pdf, file, { Length1: file.length });
    const descriptor = pdf.ref({
      Type: 'FontDescriptor',
      FontName: name,
      Flags: SERIF.test(this.name) ? 6 : 4,
      FontBBox: face.metrics.bbox.map(scale),
      ItalicAngle: face.metrics.italicAngle,
      Ascent: scale(face.metrics.ascent),
      Descent: scale(face.metrics.descent),
      CapHeight: scale(face.metrics.capHeight),
      StemV: BOLD.test(this.name) ? 120 : 80,
      FontFile2: fontFile,
    });
    descriptor.end();
    const widths = this.glyphs.map((g) => scale(face.advanceOf(g)));
    const descendant = pdf.ref({
      Type: 'Font',
      Subtype: 'CIDFontType2',
      BaseFont: name,
      CIDSystemInfo: new Raw('<< /Registry (Adobe) /Ordering (Identity) /Supplement 0 >>'),
      FontDescriptor: descriptor,
      CIDToGIDMap: mayBeParted ? 'Identity' : addStream(pdf, placesOf(this.glyphs), {}),
      W: new Raw(`[1 [${widths.join(' ')}]]`),
    });
    descendant.end();
    Object.assign(this.ref.data, {
      Type: 'Font',
      Subtype: 'Type0',
      BaseFont: name,
      Encoding: 'Identity-H',
      DescendantFonts: [descendant],
      ToUnicode: addStream(pdf, Buffer.from(toUnicode(this.texts), 'latin1'), {}),
    });
    this.ref.end();
  }
}
