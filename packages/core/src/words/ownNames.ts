import type { Formatter } from './formatter.ts';

/** What a client calls the values that its feeds bring: by dimension, then by the feed's label. */
export type OwnNames = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** The same formatter, with the client's own names before those of the language. */
export function withOwnNames(format: Formatter, names: OwnNames | undefined): Formatter {
  if (!names || Object.keys(names).length === 0) return format;
  const nameOf = (dimension: string, label: string): string | undefined => {
    const of = Object.hasOwn(names, dimension) ? names[dimension]! : {};
    return Object.hasOwn(of, label) ? of[label] : undefined;
  };
  return { ...format, valueName: (dimension, label) => nameOf(dimension, label) ?? format.valueName(dimension, label) };
}
