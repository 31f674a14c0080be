import type { Formatter } from './formatter.ts';
import { inText, nameForms } from './inText.ts';
import { fill, type Said } from './said.ts';

/** A dimension as tables name it. */
export const dimensionName = (key: string, { words }: Formatter): string =>
  (Object.hasOwn(words.dimensions, key) ? words.dimensions[key] : undefined) ?? key;

/**
 * A title of a metric by a dimension. Where the language has another form of the dimension there and this one has none, the
 * two stand side by side.
 */
export function titleBy(text: Said, metric: string, key: string, format: Formatter): string {
  const { words, locale } = format;
  const name = dimensionName(key, format);
  const own = words.dimensionsBy;
  const forms = nameForms(metric, format);
  if (!own) return fill(text, { ...forms, dimension: inText(name, words, locale) });
  return Object.hasOwn(own, key)
    ? fill(text, { ...forms, dimension: own[key]! })
    : fill(words.labelled, { label: metric, text: inText(name, words, locale) });
}
