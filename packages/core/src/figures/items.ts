import { type CivilDate, fromDayNumber } from '../calendar/index.ts';
import { keptRows, rowsOf } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import type { Dataset, DatasetShape } from './dataset.ts';
import type { Filter } from './filter.ts';
import { byCodePoint } from './order.ts';
import { isKnown, type Value } from './value.ts';

/** What is told of a dimension's values by dimensions beside it: where each leads, and its picture. */
export const TOLD_BESIDE: Readonly<Record<string, { link: string; picture?: string }>> = {
  post: { link: 'postLink', picture: 'postPicture' },
  hashtag: { link: 'hashtagLink' },
};

/** What a dataset tells of a value of a dimension beside its figures. */
export interface ItemFacts {
  /** The first day of the range on which it is there. */
  day: CivilDate;
  link: string | null;
  picture: string | null;
}

/** One of the items (posts, pages) that stand out. */
export interface Item extends ItemFacts {
  label: string;
  value: Value;
}

/** The highest and the lowest of the items of a range by one metric, the most telling first, and how many there are. */
export interface Standing {
  best: Item[];
  worst: Item[];
  of: number;
}

/** The dimensions beside one that a dataset has, which tell of its values. */
export const besideOf = (dimension: string, { dimensions }: Pick<DatasetShape, 'dimensions'>): string[] =>
  Object.values(TOLD_BESIDE[dimension] ?? {}).filter((d) => dimensions.includes(d));

/** What a dataset tells of each value of a dimension in a range. */
export function itemFacts(
  dataset: Dataset,
  dimension: string,
  range: CountedRange,
  filter: Filter,
): Map<string, ItemFacts> {
  const { columns } = dataset;
  const column = columns.dims[dimension];
  const found = new Map<string, ItemFacts>();
  if (!column) return found;
  const beside = TOLD_BESIDE[dimension];
  const keep = keptRows(columns, filter, range.without);
  const { start, end } = rowsOf(columns, range);
  const textAt = (name: string | undefined, i: number): string | null => {
    const dim = name === undefined ? undefined : columns.dims[name];
    return dim?.labels[dim.codes[i]!] || null;
  };
  // Rows lie by day: the first one of a value is its first day.
  for (let i = start; i < end; i++) {
    if (keep !== null && keep[i] !== 1) continue;
    const label = column.labels[column.codes[i]!]!;
    if (found.has(label)) continue;
    const day = fromDayNumber(columns.days[i]!);
    found.set(label, { day, link: textAt(beside?.link, i), picture: textAt(beside?.picture, i) });
  }
  return found;
}

/**
 * The `n` highest and the `n` lowest of the items by their values; ties by day, then label (SEMANTICS §12). Where there are
 * fewer than twice as many, none is both.
 */
export function standing(items: readonly Item[], n: number): Standing {
  const known = items.filter((i) => isKnown(i.value));
  const sizeOf = (i: Item): number => (isKnown(i.value) ? i.value.value : 0);
  const ties = (a: Item, b: Item) => byCodePoint(a.day, b.day) || byCodePoint(a.label, b.label);
  const best = [...known].sort((a, b) => sizeOf(b) - sizeOf(a) || ties(a, b)).slice(0, n);
  const left = known.filter((i) => !best.includes(i));
  const worst = left.sort((a, b) => sizeOf(a) - sizeOf(b) || ties(a, b)).slice(0, n);
  return { best, worst, of: known.length };
}
