import { type Filter, type FilterRule, joinFilters } from './filter.ts';

/** How a part of a filter takes its values: these alone, all but these, what holds one of these texts, or none of them. */
export const FILTER_HOWS = ['only', 'except', 'contains', 'lacks'] as const;
export type FilterHow = (typeof FILTER_HOWS)[number];

/** What somebody chose of one dimension. */
export interface FilterPart {
  dimension: string;
  how: FilterHow;
  values: readonly string[];
}

const RULES: Record<FilterHow, (values: readonly string[]) => FilterRule> = {
  only: (values) => values,
  except: (values) => ({ not: values }),
  contains: (values) => ({ contains: values }),
  lacks: (values) => ({ not: { contains: values } }),
};

/** The filter that keeps what every part keeps; parts without values keep everything. */
export const filterOf = (parts: readonly FilterPart[]): Filter =>
  joinFilters(
    parts.filter((p) => p.values.length > 0).map(({ dimension, how, values }) => ({ [dimension]: RULES[how](values) })),
  );
