import type { Formatter } from './formatter.ts';

/** What a client calls the values that its feeds bring: by dimension, then by the feed's label. */
export type OwnNames = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** What a client calls a value of a dimension; undefined where it has no name of its own for it. */
export function ownName(names: OwnNames | undefined, dimension: string, label: string): string | undefined {
  const of = names && Object.hasOwn(names, dimension) ? names[dimension]! : {};
  return Object.hasOwn(of, label) ? of[label] : undefined;
}

/** The same formatter, with the client's own names before those of the language. */
export function withOwnNames(format: Formatter, names: OwnNames | undefined): Formatter {
  if (!names || Object.keys(names).length === 0) return format;
  return {
    ...format,
    valueName: (dimension, label) => ownName(names, dimension, label) ?? format.valueName(dimension, label),
  };
}
