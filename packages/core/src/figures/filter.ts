/**
 * What is kept of a dimension: values as they are listed, those that hold one of some texts (whatever their capitals), what
 * a rule does not keep, or what several rules keep all of them.
 */
export type FilterRule =
  | readonly string[]
  | { contains: readonly string[] }
  | { not: FilterRule }
  | { all: readonly FilterRule[] };

/** What is kept, by dimension; several dimensions must all hold. */
export type Filter = Readonly<Record<string, FilterRule>>;

/** One that lists what it keeps: what a service can be asked for, and what a target can be set for. */
export type PlainFilter = Readonly<Record<string, readonly string[]>>;

const isList = (rule: FilterRule): rule is readonly string[] => Array.isArray(rule);

/** Whether every dimension lists its values. */
export const isPlain = (filter: Filter): filter is PlainFilter => Object.values(filter).every(isList);

/** A test of labels by a rule. */
export function keeperOf(rule: FilterRule): (label: string) => boolean {
  if (isList(rule)) {
    const wanted = new Set(rule);
    return (label) => wanted.has(label);
  }
  if ('contains' in rule) {
    const texts = rule.contains.map((t) => t.toLowerCase());
    return (label) => {
      const small = label.toLowerCase();
      return texts.some((t) => small.includes(t));
    };
  }
  if ('not' in rule) {
    const kept = keeperOf(rule.not);
    return (label) => !kept(label);
  }
  const all = rule.all.map(keeperOf);
  return (label) => all.every((keeps) => keeps(label));
}

const rulesIn = (rule: FilterRule): readonly FilterRule[] => (isList(rule) || !('all' in rule) ? [rule] : rule.all);

/** Both of two rules of one dimension; several lists are one again. */
function both(a: FilterRule, b: FilterRule): FilterRule {
  const rules = [...rulesIn(a), ...rulesIn(b)];
  const lists = rules.filter(isList);
  const others = rules.filter((r) => !isList(r));
  const listed = lists.length > 0 ? [lists.reduce((kept, list) => kept.filter((v) => list.includes(v)))] : [];
  const all = [...listed, ...others];
  return all.length === 1 ? all[0]! : { all };
}

/** What passes each of several filters. */
export function joinFilters(filters: readonly Filter[]): Filter {
  const joined: Record<string, FilterRule> = {};
  for (const filter of filters) {
    for (const [dimension, rule] of Object.entries(filter)) {
      const present = joined[dimension];
      joined[dimension] = present ? both(present, rule) : rule;
    }
  }
  return joined;
}

/** A rule in which the order of values says nothing. */
function sorted(rule: FilterRule): unknown {
  if (isList(rule)) return [...rule].sort();
  if ('contains' in rule) return { contains: [...rule.contains].sort() };
  if ('not' in rule) return { not: sorted(rule.not) };
  return { all: rule.all.map(sorted).sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1)) };
}

/** Filters as text: the order of dimensions and of values does not matter. */
export const filterKey = (filter: Filter): string => {
  const kept = Object.entries(filter).map(([d, rule]) => [d, sorted(rule)] as const);
  return kept.length === 0 ? '' : JSON.stringify(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
};
