import { wordsGrid } from '../src/words/grid/wordsGrid.ts';
import { wholeTexts } from './wholeTexts.ts';

/** The lines of one language's golden file: sentences in a grid of situations, then whole pages and emails. */
export const goldenWords = (locale: string): string[] => [...wordsGrid(locale), ...wholeTexts(locale)];
