import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FILE_NAME } from '../bounds/index.ts';
import { fileNameOf } from './fileName.ts';

describe('a file name', () => {
  it('has plain blanks and dashes, whatever the language sets', () => {
    expect(fileNameOf(['Tarnbeck', 'Rapport', '1er\u202f–\u00a07 novembre'], 'pdf')).toBe(
      'Tarnbeck Rapport 1er - 7 novembre.pdf',
    );
  });

  it('keeps its dates when it has to be cut', () => {
    const name = fileNameOf(['Ä'.repeat(300), 'Monthly overview', 'October 2026'], 'pdf');
    expect(name).toHaveLength(FILE_NAME);
    expect(name.endsWith(' Monthly overview October 2026.pdf')).toBe(true);
  });

  it('is safe in any folder and never too long', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: 'grapheme', maxLength: 200 }), { minLength: 1, maxLength: 4 }),
        (parts) => {
          const name = fileNameOf(parts, 'pdf');
          expect(name.length).toBeLessThanOrEqual(FILE_NAME);
          expect(name).not.toMatch(/[/\\:*?"<>|\u0000-\u001f]|^\.|[\u2000-\u200f\u202f\u00a0]/);
          expect(name.endsWith('.pdf')).toBe(true);
        },
      ),
    );
  });
});
