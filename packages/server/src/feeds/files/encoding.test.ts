import type { Encoding } from '@chronicon/core/feeds';
import { describe, expect, it } from 'vitest';
import { guessEncoding } from './encoding.ts';

/** A text in an encoding of one byte a letter. */
function encoded(text: string, encoding: Encoding): Uint8Array {
  const decoder = new TextDecoder(encoding);
  const codes = new Map(Array.from({ length: 256 }, (_, i) => [decoder.decode(new Uint8Array([i])), i]));
  return Uint8Array.from([...text], (letter) => codes.get(letter)!);
}

const FILES: [string, Encoding[], string[]][] = [
  ['Russian', ['windows-1251', 'koi8-r'], ['дата;магазин;продано', '2026-10-01;Набережная;3', '2026-10-02;Холм;4']],
  [
    'Polish',
    ['windows-1250', 'iso-8859-2'],
    ['dzień;sklep;sprzedaż', '2026-10-01;Nabrzeże Łódź;3', '2026-10-02;Święte;4'],
  ],
  ['Czech', ['windows-1250', 'iso-8859-2'], ['den;obchod;prodáno', '2026-10-01;Příbřeží;3', '2026-10-02;Žluťoučký;4']],
  ['German', ['windows-1252'], ['Tag;Laden;Umsatz', '2026-10-01;Süd;3', '2026-10-02;Hügel;4']],
  ['French', ['windows-1252'], ['jour;boutique;ventes', '2026-10-01;Quai été;3', '2026-10-02;Colline;4']],
  ['Spanish', ['windows-1252'], ['día;tienda;ventas', '2026-10-01;Muñoz;3', '2026-10-02;Peña;4']],
];

describe('the encoding of a text', () => {
  it.each(FILES.flatMap(([language, encodings, rows]) => encodings.map((e) => [language, e, rows] as const)))(
    'of a %s file in %s is found, in few rows and in many',
    (_, encoding, [head, ...rows]) => {
      for (const times of [1, 40]) {
        const text = [head, ...Array.from({ length: times }, () => rows).flat()].join('\r\n');
        expect(guessEncoding(encoded(text, encoding))).toBe(encoding);
      }
    },
  );

  it('is UTF-8 wherever all of it is, though the sample ends within a letter', () => {
    const bytes = new TextEncoder().encode('день;магазин;продано €');
    expect(guessEncoding(bytes)).toBe('utf-8');
    for (const cut of [1, 2]) expect(guessEncoding(bytes.subarray(0, bytes.length - cut))).toBe('utf-8');
    expect(guessEncoding(new TextEncoder().encode('day,shop,sold'))).toBe('utf-8');
    expect(guessEncoding(new Uint8Array())).toBe('utf-8');
  });
});
