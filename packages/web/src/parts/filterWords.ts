import type { FilterHow, FilterPart } from '@chronicon/core/contract/figuresText';

/** Stands among the parts of a filter for segments (by their ids). */
export const SEGMENT = 'segment';

interface Named {
  dimensions: readonly { key: string; label: string }[];
  segments: readonly { id: string; name: string }[];
}

const HOWS: Record<FilterHow, string> = { only: '', except: 'not ', contains: 'with ', lacks: 'without ' };
const FEW = 2;

/** Names as a part of a sentence: two, and how many more. */
export const listed = (names: readonly string[]): string =>
  names.length <= FEW ? names.join(' and ') : `${names.slice(0, FEW).join(', ')} and ${names.length - FEW} more`;

/** What a filter keeps, as a part of a sentence. */
export function filterWords(parts: readonly FilterPart[], { dimensions, segments }: Named): string {
  if (parts.length === 0) return 'everything';
  return parts
    .map(({ dimension, how, values }) => {
      if (dimension === SEGMENT)
        return listed(values.map((id) => segments.find((s) => s.id === id)?.name ?? 'a deleted segment'));
      const name = dimensions.find((d) => d.key === dimension)?.label ?? dimension;
      return `${name} ${HOWS[how]}${listed(values.map((v) => v || '(unnamed)'))}`;
    })
    .join(', ');
}
