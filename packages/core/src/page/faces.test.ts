import { describe, expect, it } from 'vitest';
import { FACE_NAMES, lendersOf } from './faces.ts';

const first = (grapheme: string, text = grapheme, language = 'en-GB') =>
  lendersOf(grapheme, text, language, false).filter((f) => f !== 'fallback')[0];

describe('faces that lend characters', () => {
  it('are asked by script, in the weight of the text', () => {
    expect([first('א'), first('م'), first('ย'), first('の'), first('한'), first('东')]).toEqual([
      'hebrew',
      'arabic',
      'thai',
      'japanese',
      'korean',
      'chinese',
    ]);
    expect(lendersOf('א', 'א', 'en-GB', true)).toContain('hebrewBold');
  });

  it('draw what Chinese, Japanese and Korean share as the line or the page has it', () => {
    expect(first('直', '直の')).toBe('japanese');
    expect(first('直', '直 한국')).toBe('korean');
    expect(first('直', '直', 'ja-JP')).toBe('japanese');
    expect(first('直')).toBe('chinese');
  });

  it('open no face of ten thousand characters for what it cannot have', () => {
    for (const grapheme of ['𐎀', '⇒', 'ꙮ', '\u{1f600}']) {
      expect(lendersOf(grapheme, grapheme, 'en-GB', false)).not.toEqual(expect.arrayContaining(['chinese']));
    }
    expect(lendersOf('🎉', '🎉', 'en-GB', false)[0]).toBe('emoji');
  });

  it('are told from each other on the screen by family and weight', () => {
    const names = Object.values(FACE_NAMES).map((f) => `${f.family} ${f.weight}`);
    expect(new Set(names).size).toBe(names.length);
  });
});
