import { describe, expect, it } from 'vitest';
import { remarksOf, undrawableIn } from './remarks.ts';
import type { ScenePage } from './scene.ts';

const page = (lost: string[]): ScenePage => ({
  title: 'Page',
  width: 595.28,
  height: 841.89,
  blocks: [],
  ops: lost.map((l) => ({ k: 'text', x: 0, y: 0, w: 1, face: 'sans', size: 9, fill: '#000000', text: '□', lost: l })),
});

describe('what a manager is told of a report', () => {
  it('names characters that no face can draw, each once, by their codes', () => {
    expect(undrawableIn({ pages: [page(['𐎀', '𐎀', '\u{12000}'])] })).toBe(
      'No font supports U+10380, U+12000; shown as an empty box.',
    );
    const many = Array.from({ length: 9 }, (_, i) => String.fromCodePoint(0x1_2000 + i));
    expect(undrawableIn({ pages: [page(many)] })).toContain('and 4 more');
    expect(undrawableIn({ pages: [page([])] })).toBeNull();
  });

  it('says that there are more sheets than anybody reads, from forty-one on', () => {
    const pages = (n: number) => Array.from({ length: n }, () => page([]));
    expect(remarksOf({ pages: pages(40) })).toEqual([]);
    expect(remarksOf({ pages: pages(41) })[0]).toContain('41 pages');
  });
});
