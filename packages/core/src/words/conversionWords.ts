import type { Conversion } from '../figures/index.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './said.ts';

/** Digits of a rate that tell: those beyond are noise. */
const DIGITS = 6;

/** By what rates a figure's money was converted, in words without a full stop: `amounts in EUR converted at 1 EUR = 0.86 GBP (1–31 Oct 2026)`. */
export function conversionWords(conversions: readonly Conversion[], format: Formatter): string {
  const number = new Intl.NumberFormat(format.locale, { maximumSignificantDigits: DIGITS });
  const said = conversions.map(({ currency, into, rate, from, to }) =>
    fill(format.words.converted, {
      currency,
      rate: `1 ${currency} = ${number.format(rate)} ${into}`,
      range: format.range({ from, to }),
    }),
  );
  return [...new Set(said)].reduce((first, second) => fill(format.words.semicolon, { first, second }));
}
