import fc from 'fast-check';
import * as hb from 'harfbuzzjs';
import { describe, expect, it } from 'vitest';
import { compress } from 'woff2-encoder';
import { fontData } from '../../render/fonts.ts';
import { assemble, openTrueType } from '../../render/trueType.ts';
import { cubicFont } from '../../test/cubicFont.ts';
import { readTypeface, TypefaceError } from './readTypeface.ts';
import { tablesOf, viewOf } from './tables.ts';

const lora = fontData('lora-400');
const fontOf = (data: Uint8Array) => new hb.Font(new hb.Face(new hb.Blob(data)));

function widthOf(data: Uint8Array, text: string): number {
  const buffer = new hb.Buffer();
  buffer.addText(text);
  buffer.guessSegmentProperties();
  hb.shape(fontOf(data), buffer);
  return buffer.getGlyphPositions().reduce((sum, p) => sum + p.xAdvance, 0);
}

/** The same file with another word of permissions. */
function withRights(data: Uint8Array, rights: number): Uint8Array {
  const copy = data.slice();
  viewOf(tablesOf(copy).get('OS/2')!).setUint16(8, rights);
  return copy;
}

const boxOf = (path: string): number[] => {
  const n = (path.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
  const [xs, ys] = [n.filter((_, i) => i % 2 === 0), n.filter((_, i) => i % 2 === 1)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
};

/** Area by the corners and steering points of an outline: near enough to tell one shape from another. */
function areaOf(path: string): number {
  let area = 0;
  for (const contour of path.split('M').filter((p) => p !== '')) {
    const n = (contour.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
    for (let i = 0; i + 1 < n.length; i += 2) {
      const [x, y, nx, ny] = [n[i]!, n[i + 1]!, n[(i + 2) % n.length]!, n[(i + 3) % n.length]!];
      area += (x * ny - nx * y) / 2;
    }
  }
  return Math.abs(area);
}

describe('a typeface that is brought', () => {
  it('is kept with what draws and sets it, under its own name, and without what no page needs', async () => {
    const read = await readTypeface(lora);
    expect(read).toMatchObject({ name: 'Lora', isBold: false });
    expect(read.said).toEqual(['Letters of Hebrew are missing: such texts use the default font.']);
    expect([...tablesOf(read.data).keys()]).not.toContain('DSIG');
    expect(widthOf(read.data, 'AVATAR Tё')).toBe(widthOf(lora, 'AVATAR Tё'));
    expect((await readTypeface(fontData('lora-600'))).isBold).toBe(true);
  });

  it('is the same from WOFF2', async () => {
    const packed = await compress(lora);
    expect(packed.length).toBeLessThan(lora.length);
    const [plain, unpacked] = [await readTypeface(lora), await readTypeface(packed)];
    expect(unpacked.name).toBe(plain.name);
    const [a, b] = [fontOf(plain.data), fontOf(unpacked.data)];
    for (const glyph of [1, 40, 200]) expect(b.glyphToPath(glyph)).toBe(a.glyphToPath(glyph));
  });

  it('has its cubic outlines made anew so that nobody sees it, and stands as wide, kerned as before', async () => {
    const read = await readTypeface(cubicFont(lora));
    expect([...tablesOf(read.data).keys()]).not.toContain('CFF ');
    expect(widthOf(read.data, 'AVATAR Tё 1,204')).toBe(widthOf(lora, 'AVATAR Tё 1,204'));
    const [before, after] = [fontOf(lora), fontOf(read.data)];
    const { unitsPerEm, subset } = openTrueType(read.data);
    for (let glyph = 1; glyph < 220; glyph++) {
      const [a, b] = [before.glyphToPath(glyph), after.glyphToPath(glyph)];
      if (a === '') {
        expect(b).toBe('');
        continue;
      }
      const off = boxOf(a).map((v, i) => Math.abs(v - boxOf(b)[i]!));
      // Steering points may lie outside a curve: those of the new one do not lie further out.
      expect(Math.max(...off), `glyph ${glyph}`).toBeLessThan(unitsPerEm / 20);
      expect(Math.abs(areaOf(a) - areaOf(b)) / areaOf(a), `glyph ${glyph}`).toBeLessThan(0.2);
    }
    expect(fontOf(subset([40])).glyphToPath(1)).toBe(after.glyphToPath(40));
  });

  it.each([
    [0x0000, null],
    [0x0004, null],
    [0x0008, null],
    // The least strict counts where an old file says several.
    [0x0006, null],
    [0x0002, /forbids embedding/],
    [0x0200, /bitmap/],
    [0x0204, /bitmap/],
  ])('stands in documents as its maker allows: %i', async (rights, refused) => {
    const file = withRights(lora, rights);
    if (refused) await expect(readTypeface(file)).rejects.toThrow(refused);
    else expect((await readTypeface(file)).said).toHaveLength(1);
  });

  it('says that its maker wants it whole', async () => {
    const read = await readTypeface(withRights(lora, 0x0104));
    expect(read.said.at(-1)).toMatch(/^Its licence allows only full embedding: each PDF .* \d+ kB larger\.$/);
    expect(openTrueType(read.data).mayBeParted).toBe(false);
  });

  it('is refused in words where it is none, or of a kind that cannot be printed', async () => {
    const of = (text: string) => new TextEncoder().encode(text.padEnd(64, '\0'));
    await expect(readTypeface(of('ttcf'))).rejects.toThrow('several fonts');
    await expect(readTypeface(of('wOFF'))).rejects.toThrow('Upload TTF, OTF or WOFF2');
    await expect(readTypeface(of('%PDF'))).rejects.toThrow('Not a font file');
    const huge = of('wOF2');
    viewOf(huge).setUint32(16, 2 ** 31);
    await expect(readTypeface(huge)).rejects.toThrow('larger than 20 MB');
    // A table of characters that has none (format 12).
    const none = new Uint8Array(28);
    [0, 0, 0, 1, 0, 3, 0, 10, 0, 0, 0, 12, 0, 12, 0, 0, 0, 0, 0, 16].forEach((v, i) => {
      none[i] = v;
    });
    const mute = assemble(
      [...tablesOf(lora)].map(([t, b]): [string, Uint8Array] => [t, t === 'cmap' ? none : b.slice()]),
    );
    await expect(readTypeface(mute)).rejects.toThrow('no digits');
  });

  it('that is damaged is refused, or is drawn whole: never found out when a report is due', async () => {
    const tables = tablesOf(lora);
    const places = ['glyf', 'loca', 'head', 'hhea', 'maxp', 'cmap', 'OS/2', 'name'].map((t) => tables.get(t)!);
    const aByte = fc.constantFrom(...places).chain((table) =>
      fc.record({
        at: fc
          .integer({ min: 0, max: Math.min(table.length, 400) - 1 })
          .map((i) => table.byteOffset - lora.byteOffset + i),
        to: fc.integer({ min: 0, max: 255 }),
      }),
    );
    await fc.assert(
      fc.asyncProperty(
        fc.array(aByte, { minLength: 1, maxLength: 12 }),
        fc.option(fc.integer({ min: 4, max: lora.length })),
        async (bytes, cut) => {
          const file = lora.slice(0, cut ?? lora.length);
          for (const { at, to } of bytes) if (at < file.length) file[at] = to;
          try {
            const { data } = await readTypeface(file);
            const type = openTrueType(data);
            const count = viewOf(tablesOf(data).get('maxp')!).getUint16(4);
            type.subset(Array.from({ length: count - 1 }, (_, g) => g + 1));
          } catch (error) {
            expect(error instanceof TypefaceError || error instanceof RangeError, String(error)).toBe(true);
          }
        },
      ),
      { numRuns: 60, seed: 7 },
    );
  });
});
