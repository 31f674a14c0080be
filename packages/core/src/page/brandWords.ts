import type { Brand } from '../report/index.ts';
import { isLostOn, isPale } from './logo.ts';
import { contrast, readable } from './palette.ts';

/** Contrast that text needs on its ground, and what carries meaning beside text (WCAG 2.2 SC 1.4.3, 1.4.11). */
const TEXT = 4.5;
const MARKS = 3;
const WHITE = '#ffffff';
/** Colours that are nearer than this are hardly told apart beside each other. */
const APART = 1.25;

const ratio = (n: number): string => `${n.toFixed(1)} to 1`;

/**
 * What a brand's colours and logo come to on paper, in sentences for whoever chooses them (the interface is English): what
 * is drawn otherwise than it was chosen, and why. Nothing to say means that all is drawn as it is.
 */
export function brandWords(brand: Pick<Brand, 'main' | 'second' | 'logo' | 'logoDark'>): string[] {
  const said: string[] = [];
  const [main, second] = [readable(brand.main), readable(brand.second, MARKS)];
  const white = contrast(brand.main, WHITE);
  if (white < TEXT)
    said.push(
      `Main colour is too light for text (contrast ${ratio(white)}, needs ${ratio(TEXT)}). Text uses ${main} instead.`,
    );
  const beside = contrast(brand.second, WHITE);
  if (beside < MARKS)
    said.push(
      `The second colour is too light for white paper (contrast ${ratio(beside)}, needs ${ratio(MARKS)}). Lines and bars use ${second} instead.`,
    );
  if (contrast(main, second) < APART && main !== second) said.push('The two colours look alike in greyscale.');
  if (main === second)
    said.push('Both colours look the same on paper: the second series differs only by line style and label.');
  if (brand.logo && isPale(brand.logo))
    said.push('The logo is too light for white paper: it’s shown on the main colour.');
  if (brand.logoDark && isLostOn(brand.logoDark, main))
    said.push('The dark-background logo is hard to see on the main colour: it’s shown on white.');
  return said;
}
