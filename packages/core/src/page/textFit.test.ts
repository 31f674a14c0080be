import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TextStyle } from '../report/index.ts';
import { facesOf } from './faces.ts';
import { type PageRuler, type Ruler, rulerFor } from './ruler.ts';
import { fitText, wrapText } from './textFit.ts';

/** Every character is one point wide at size 1; words are divided after every third letter. */
const everyThird: Ruler = {
  runs: (face, text) => [{ face, text, advance: Array.from(text.replaceAll('\u00ad', '')).length }],
  syllables: (word) => word.match(/(?:\P{M}\p{M}*){1,3}/gu) ?? [word],
};
const ruler: PageRuler = rulerFor(everyThird, 'en-GB', 'ltr', facesOf());
const plain: TextStyle = { face: 'sans', size: 1, fill: '#000000' };
const running: TextStyle = { ...plain, running: true };

describe('lines of a text', () => {
  it('end at spaces, and never at a no-break space', () => {
    expect(wrapText(ruler, 'one two three', plain, 8)).toEqual(['one two', 'three']);
    expect(wrapText(ruler, 'up 12\u00a0% now', plain, 6)).toEqual(['up', '12\u00a0%', 'now']);
  });

  it('divide a word that is too long for any, with a hyphen, and let it fill the line before', () => {
    expect(wrapText(ruler, 'abcdefghij', plain, 7)).toEqual(['abcdef-', 'ghij']);
    expect(wrapText(ruler, 'x abcdefghijk', plain, 7)).toEqual(['x abc-', 'defghi-', 'jk']);
  });

  it('divide other words in running text alone, and only where a line would be left too empty', () => {
    expect(wrapText(ruler, 'a bcdefghi', plain, 9)).toEqual(['a', 'bcdefghi']);
    expect(wrapText(ruler, 'a bcdefghi', running, 9)).toEqual(['a bcdefg-', 'hi']);
    expect(wrapText(ruler, 'abcdefg hijklm', running, 9)).toEqual(['abcdefg', 'hijklm']);
  });

  it('honour soft hyphens before the rules of the language', () => {
    expect(wrapText(ruler, 'ab\u00adcdefghij\u00adkl', plain, 10)).toEqual(['ab-', 'cdefghijkl']);
    expect(wrapText(ruler, 'ab\u00adcdefghij\u00adkl', plain, 11)).toEqual(['abcdefghij-', 'kl']);
  });

  it('end after hyphens and slashes of what has no spaces (UAX 14)', () => {
    expect(wrapText(ruler, '/shop/lights/rear', plain, 8)).toEqual(['/shop/', 'lights/', 'rear']);
    expect(wrapText(ruler, 'Kosten-Nutzen', plain, 8)).toEqual(['Kosten-', 'Nutzen']);
  });

  it('end between characters of scripts without spaces, and not before what closes', () => {
    expect(wrapText(ruler, '十月の売上は増加しました。', plain, 6)).toEqual(['十月の売上は', '増加しまし', 'た。']);
    for (const line of wrapText(ruler, 'ยอดขายเพิ่มขึ้นในเดือนตุลาคม', plain, 12))
      expect(line).not.toMatch(/^[\u0e31\u0e34-\u0e3a\u0e47-\u0e4e]/);
  });

  it('divide between graphemes where nothing else helps', () => {
    expect(wrapText(ruler, '12345678', plain, 3)).toEqual(['123', '456', '78']);
    expect(wrapText(ruler, 'e\u0301e\u0301e\u0301', plain, 4).join('')).toBe('e\u0301e\u0301e\u0301');
  });

  it('part a chain of joined pictures that no line could hold', () => {
    const chain = '👩\u200d'.repeat(40);
    const lines = wrapText(ruler, chain, plain, 12);
    expect(lines.join('')).toBe(chain);
    for (const line of lines) expect(ruler.advance('sans', line)).toBeLessThanOrEqual(12);
  });

  it('lose nothing, and are no wider than they may be, whatever the text', () => {
    const word = fc.oneof(
      fc.string({
        unit: fc.constantFrom('a', 'b', 'ü', '-', '/', '\u00ad', '東', '京', 'ย', 'อ'),
        minLength: 1,
        maxLength: 30,
      }),
      fc.constantFrom('and', '12,345', 'x'.repeat(60)),
    );
    const bare = (s: string) => s.replace(/[\s\u00ad-]/g, '');
    fc.assert(
      fc.property(
        fc.array(word, { maxLength: 12 }),
        fc.integer({ min: 2, max: 40 }),
        fc.boolean(),
        (words, width, runs) => {
          const text = words.join(' ');
          const lines = wrapText(ruler, text, runs ? running : plain, width);
          expect(bare(lines.join(''))).toBe(bare(text));
          for (const line of lines) expect(ruler.advance('sans', line)).toBeLessThanOrEqual(Math.max(width, 2));
        },
      ),
    );
  });
});

it('a text that is cut keeps whole graphemes and ends with an ellipsis', () => {
  expect(fitText(ruler, 'abcdef', plain, 6)).toBe('abcdef');
  expect(fitText(ruler, 'abcdefg', plain, 6)).toBe('abcde…');
  expect(fitText(ruler, 'ab 👨‍👩‍👧 cd', plain, 6)).toBe('ab…');
});
