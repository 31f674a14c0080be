import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Brand, brandSchema, KIT_PARTS, type Logo, settleBrand } from '../report/index.ts';
import { brandWords } from './brandWords.ts';
import { logoOnDark } from './logo.ts';
import { contrast, paletteOf } from './palette.ts';

const said = (main: string, second: string, logo: Logo | null = null) => brandWords({ main, second, logo });
const pale: Logo = { kind: 'image', file: 'f'.repeat(64), type: 'image/png', width: 9, height: 9, pale: true };

const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);

describe('what a brand comes to on paper', () => {
  it('has nothing to say of colours that are read on white as they are', () => {
    expect(said('#0f5e6b', '#a86a12')).toEqual([]);
    expect(said('#000000', '#767676')).toEqual([]);
  });

  it('says what is too pale, by how much, and in what it is drawn', () => {
    const [main, second] = said('#ffff00', '#fff8dc');
    expect(main).toMatch(/Main colour is too light for text \(contrast 1\.1 to 1, needs 4\.5 to 1\).* #[0-9a-f]{6}/);
    expect(second).toMatch(/second colour is too light for white paper \(contrast 1\.1 to 1, needs 3\.0 to 1\)/);
    expect(said('#ffffff', '#ffffff').join(' ')).toMatch(/Main colour.*second colour/);
    expect(said('#0f5e6b', '#a86a12', pale).join()).toMatch(
      /The logo is too light for white paper: it’s shown on the main colour\./,
    );
  });

  it('says where two colours are not told apart without colour', () => {
    expect(said('#0f5e6b', '#0f5e6b')).toEqual([expect.stringMatching(/the same on paper/)]);
    expect(said('#8a2be2', '#a52a2a').join()).toMatch(/The two colours look alike in greyscale\./);
  });

  it('of any colours: what is drawn passes the contrast rules, and a colour that is drawn otherwise is told', () => {
    fc.assert(
      fc.property(hex, hex, (main, second) => {
        const brand: Brand = { main, second, footer: '', logo: null };
        const palette = paletteOf(brand);
        expect(contrast(palette.main, '#ffffff')).toBeGreaterThanOrEqual(4.5);
        expect(contrast(palette.second, '#ffffff')).toBeGreaterThanOrEqual(3);
        expect(contrast(palette.mainTint, '#ffffff')).toBeGreaterThanOrEqual(3);
        const words = brandWords(brand).join(' ');
        expect(words.includes('Main colour is too light for text (contrast')).toBe(palette.main !== main);
        expect(words.includes('The second colour is too light for white paper (contrast')).toBe(
          palette.second !== second,
        );
      }),
    );
  });
});

describe('a client’s kit', () => {
  const own: Brand = { main: '#111111', second: '#222222', footer: 'Ours', address: 'Quay 1', logo: pale };
  const agency = { main: '#aaaaaa', second: '#bbbbbb', footer: 'Agency', address: 'Mill 2' };

  it('is its own, but for what follows the agency’s', () => {
    expect(settleBrand(own, agency)).toEqual(own);
    expect(settleBrand({ ...own, follows: ['colours'] }, agency)).toEqual({
      ...own,
      main: '#aaaaaa',
      second: '#bbbbbb',
    });
    expect(settleBrand({ ...own, follows: ['footer', 'address'] }, agency)).toEqual({
      ...own,
      footer: 'Agency',
      address: 'Mill 2',
    });
    expect(settleBrand({ ...own, follows: [...KIT_PARTS] }, { ...agency, address: '' })).toEqual({
      ...agency,
      address: undefined,
      // The agency has none, and so has whoever follows it.
      logo: null,
      logoDark: null,
      cover: null,
      mailHead: null,
    });
    const typefaces = { text: 'inter', heads: 'lora' } as const;
    expect(settleBrand({ ...own, follows: ['logo', 'typefaces'] }, { ...agency, logo: pale, typefaces })).toEqual({
      ...own,
      typefaces,
      logo: pale,
      logoDark: null,
    });
  });

  it('of before has nothing of the agency’s', () => {
    const { address: _, ...before } = own;
    expect(brandSchema.parse(before)).toEqual(before);
    expect(settleBrand(before, agency)).toEqual(before);
  });
});

describe('a logo on the main colour', () => {
  const drawing = (fill: string): Logo => ({
    kind: 'vector',
    width: 10,
    height: 10,
    paths: [{ d: 'M0 0L10 0L10 10Z', fill, stroke: null, strokeWidth: 0, evenOdd: false }],
  });
  const [white, dark] = [drawing('#ffffff'), drawing('#123a40')];

  it('is the one that is made for it, or the other: on white where nothing of it would be seen', () => {
    expect(logoOnDark(dark, white, '#0f5e6b')).toEqual({ logo: white, onWhite: false });
    expect(logoOnDark(white, null, '#0f5e6b')).toEqual({ logo: white, onWhite: false });
    expect(logoOnDark(dark, null, '#0f5e6b')).toEqual({ logo: dark, onWhite: true });
    expect(logoOnDark(white, dark, '#0f5e6b')).toEqual({ logo: dark, onWhite: true });
    expect(logoOnDark(null, null, '#0f5e6b')).toBeNull();
  });

  it('is spoken of where the one that is made for it is lost there', () => {
    const said = (logoDark: Logo) => brandWords({ main: '#0f5e6b', second: '#a86a12', logo: null, logoDark }).join();
    expect(said(dark)).toContain('The dark-background logo is hard to see on the main colour: it’s shown on white.');
    expect(said(white)).toBe('');
  });
});
