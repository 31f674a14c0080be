import type { Brand, Palette } from '../report/index.ts';

type Rgb = [number, number, number];

export const rgbOf = (hex: string): Rgb => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16)) as Rgb;
const hexOf = (rgb: Rgb): string => `#${rgb.map((v) => Math.round(v).toString(16).padStart(2, '0')).join('')}`;

/** `share` of a colour on white: 0 is white, 1 the colour itself. */
export const tint = (hex: string, share: number): string =>
  hexOf(rgbOf(hex).map((v) => 255 - (255 - v) * share) as Rgb);

/** Relative luminance, 0-1 (WCAG 2.2). */
export function luminance(hex: string): number {
  const [r, g, b] = rgbOf(hex).map((v) => {
    const s = v / 255;
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4;
  }) as Rgb;
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast ratio of two colours, 1-21 (WCAG 2.2 SC 1.4.3). */
export function contrast(a: string, b: string): number {
  const [hi, lo] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (hi + 0.05) / (lo + 0.05);
}

/** The colour, darkened until text in it on white reaches `ratio` (AA: 4.5). */
export function readable(hex: string, ratio = 4.5): string {
  let rgb = rgbOf(hex);
  while (contrast(hexOf(rgb), '#ffffff') < ratio) rgb = rgb.map((v) => v * 0.94) as Rgb;
  return hexOf(rgb);
}

/** The palest tint of a colour that is told from white at `ratio` (WCAG 2.2 SC 1.4.11: 3 for what carries meaning). */
export function visibleTint(hex: string, ratio = 3): string {
  for (let share = 0.2; share < 1; share += 0.02) {
    const found = tint(hex, share);
    if (contrast(found, '#ffffff') >= ratio) return found;
  }
  return readable(hex, ratio);
}

/** The colours of a page: quiet ones of the house, and the brand's made readable on paper. */
export function paletteOf(brand: Brand): Palette {
  const main = readable(brand.main);
  return {
    main,
    mainTint: visibleTint(main),
    second: readable(brand.second, 3),
    compared: '#8a929b',
    ink: '#1c2630',
    muted: '#5b6570',
    rule: '#ddd8cb',
    good: '#2c7350',
    wrong: '#a23b2c',
  };
}
