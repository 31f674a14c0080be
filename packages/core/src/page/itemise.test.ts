import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { directionOf, paragraphDirection } from './direction.ts';
import { itemise } from './itemise.ts';

/** What stands from left to right, with ‹› around what is read from right to left. */
const seen = (text: string, base: 'ltr' | 'rtl') => itemise(text, base).map((s) => (s.rtl ? `‹${s.text}›` : s.text));

describe('a line of both directions', () => {
  it('keeps numbers and signs of percent from left to right (UAX 9, W5 and W7)', () => {
    expect(seen('מבצע 12% היום', 'rtl')).toEqual(['‹ היום›', '12%', '‹מבצע ›']);
    expect(seen('הנחה של 12%', 'rtl')).toEqual(['12%', '‹הנחה של ›']);
  });

  it('has words of the other direction where the line itself says (L2)', () => {
    expect(seen('Visits of מבצע rose', 'ltr')).toEqual(['Visits of ', '‹מבצע›', ' rose']);
    expect(seen('ביקורים ב-Lumora Ads עלו', 'rtl')).toEqual(['‹ עלו›', 'Lumora Ads', '‹ביקורים ב-›']);
  });

  it('pairs brackets with what they hold (N0)', () => {
    expect(seen('(עד סוף)', 'rtl')).toEqual(['‹(עד סוף)›']);
    expect(seen('a (אבג) b', 'ltr')).toEqual(['a (', '‹אבג›', ') b']);
  });

  it('has white space at its end on the side where it ends (L1)', () => {
    expect(seen('abc אבג ', 'ltr')).toEqual(['abc ', '‹אבג›', ' ']);
    expect(seen('אבג abc ', 'rtl')).toEqual(['‹ ›', 'abc', '‹אבג ›']);
  });

  it('obeys embeddings and isolates, and draws none of them', () => {
    expect(seen('a \u202eabc\u202c b', 'ltr').join('')).toBe('a ‹abc› b');
    expect(seen('1 \u2067אבג 2\u2069 3', 'ltr').join('')).not.toMatch(/[\u2066-\u2069]/);
    expect(seen('Über\u00adraschung\u200b\ufeff', 'ltr')).toEqual(['Überraschung']);
    expect(seen('a\u0007b\u0000', 'ltr')).toEqual(['ab']);
  });

  it('loses and doubles nothing, whatever it is', () => {
    const piece = fc.constantFrom(
      'abc',
      'אבג',
      'مرحبا',
      ' ',
      '12',
      '%',
      '(',
      ')',
      '-',
      '\u202b',
      '\u202c',
      '\u2067',
      '\u2069',
      '東京',
      '👍🏽',
      '…',
    );
    fc.assert(
      fc.property(
        fc.array(piece, { maxLength: 20 }),
        fc.constantFrom('ltr' as const, 'rtl' as const),
        (parts, base) => {
          const text = parts.join('');
          const letters = (s: string) =>
            Array.from(s.replace(/[\u202a-\u202e\u2066-\u2069]/g, ''))
              .sort()
              .join('');
          expect(
            letters(
              itemise(text, base)
                .map((s) => s.text)
                .join(''),
            ),
          ).toBe(letters(text));
        },
      ),
    );
  });
});

describe('the direction of a text', () => {
  it('is that of its letters, whatever page it stands on; of a mixed one, the page’s', () => {
    expect(directionOf('מבצע!', 'ltr')).toBe('rtl');
    expect(directionOf('Sale!', 'rtl')).toBe('ltr');
    expect(directionOf('Sale מבצע', 'ltr')).toBe('ltr');
    expect(directionOf('Sale מבצע', 'rtl')).toBe('rtl');
    expect(directionOf('−12.4%', 'rtl')).toBe('ltr');
  });

  it('is that of its first letter in a paragraph somebody wrote (P2)', () => {
    expect(paragraphDirection('12% מבצע and more', 'ltr')).toBe('rtl');
    expect(paragraphDirection('Sale מבצע', 'rtl')).toBe('ltr');
    expect(paragraphDirection('2026', 'rtl')).toBe('rtl');
  });
});
