import * as hb from 'harfbuzzjs';
import { describe, expect, it } from 'vitest';
import { FACES, fontData } from './fonts.ts';
import { openTrueType } from './trueType.ts';

const fontOf = (data: Uint8Array) => new hb.Font(new hb.Face(new hb.Blob(data)));

function glyphOf(font: hb.Font, text: string): number {
  const buffer = new hb.Buffer();
  buffer.addText(text);
  buffer.guessSegmentProperties();
  hb.shape(font, buffer);
  return buffer.getGlyphInfos()[0]!.codepoint;
}

describe.each(FACES)('a subset of %s', (face) => {
  const data = fontData(face);
  const whole = fontOf(data);
  const type = openTrueType(data);
  // Plain outlines, and ones that are made from others.
  const glyphs = [...'Aé%iÅż5'].map((c) => glyphOf(whole, c));

  it('draws each glyph as the whole font does, at its new place, and is much smaller', () => {
    const small = type.subset(glyphs);
    const subset = fontOf(small);
    glyphs.forEach((glyph, i) => {
      expect(subset.glyphToPath(i + 1)).toBe(whole.glyphToPath(glyph));
      expect(whole.glyphToPath(glyph)).not.toBe('');
    });
    expect(small.length).toBeLessThan(data.length / 5);
  });

  it('keeps metrics, and leaves the whole font untouched', () => {
    const before = whole.glyphToPath(glyphs[1]!);
    const subset = openTrueType(type.subset(glyphs));
    expect(subset.unitsPerEm).toBe(type.unitsPerEm);
    glyphs.forEach((glyph, i) => {
      expect(subset.advanceOf(i + 1)).toBe(type.advanceOf(glyph));
    });
    type.subset([...glyphs].reverse());
    expect(fontOf(data).glyphToPath(glyphs[1]!)).toBe(before);
  });

  it('is the same for the same glyphs', () => {
    expect(Buffer.from(type.subset(glyphs)).equals(Buffer.from(type.subset(glyphs)))).toBe(true);
  });
});

it('refuses a file without outlines', () => {
  expect(() => openTrueType(new Uint8Array(12))).toThrow('no head table');
});
