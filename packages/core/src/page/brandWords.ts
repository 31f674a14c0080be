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
      `The main colour is too pale for words on white (${ratio(white)}, and ${ratio(TEXT)} is needed): they are written in ${main}, a darker one of its kind.`,
    );
  const beside = contrast(brand.second, WHITE);
  if (beside < MARKS)
    said.push(
      `The second colour is hardly seen on white (${ratio(beside)}, and ${ratio(MARKS)} is needed): lines and bars are drawn in ${second}, a darker one of its kind.`,
    );
  if (contrast(main, second) < APART && main !== second)
    said.push('The two colours are as dark as each other: on grey paper they are told apart by line and word alone.');
  if (main === second) said.push('Both colours are the same on paper: what is second is told by line and word alone.');
  if (brand.logo && isPale(brand.logo))
    said.push('The logo is too pale for white paper: it stands on a ground of the main colour.');
  if (brand.logoDark && isLostOn(brand.logoDark, main))
    said.push('The logo for dark ground is hardly seen on the main colour: there it stands on white.');
  return said;
}
