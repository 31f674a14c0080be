import type { Range } from '../calendar/index.ts';
import { aggregate, judgeCoverage } from './aggregate.ts';
import { type Filter, rowsOf, rowTest } from './columns.ts';
import type { Dataset } from './dataset.ts';
import { type Aggregation, measuresOf } from './metric.ts';
import { known, na, type Value } from './value.ts';

/** A figure now and in the compared range; null when nothing is compared. */
export interface Pair {
  current: Value;
  compared: Value | null;
}

/** One line of a breakdown; `cells` are in the order of the metrics asked for. */
export interface BreakdownRow {
  label: string;
  status: 'both' | 'new' | 'gone';
  cells: Pair[];
}

export interface Breakdown {
  rows: BreakdownRow[];
  /** What the shown rows leave over, or null when they are all. */
  other: Pair[] | null;
  total: Pair[];
  /** How many labels there are in either range. */
  of: number;
}

/** Σ of every measure by label code, and which labels have rows at all. */
interface Parts {
  sums: Map<string, Float64Array>;
  seen: Uint8Array;
}

function partsOf(d: Dataset, dimension: string, measures: readonly string[], range: Range, filter: Filter): Parts {
  const { codes, labels } = d.columns.dims[dimension]!;
  const { start, end } = rowsOf(d.columns, range);
  const keep = rowTest(d.columns, filter);
  const seen = new Uint8Array(labels.length);
  const sums = new Map<string, Float64Array>();
  for (const measure of measures) {
    const column = d.columns.measures[measure]!;
    const sum = new Float64Array(labels.length);
    for (let i = start; i < end; i++) {
      if (keep !== null && !keep(i)) continue;
      const code = codes[i]!;
      sum[code]! += column[i]!;
      seen[code] = 1;
    }
    sums.set(measure, sum);
  }
  return { sums, seen };
}

/** A metric over the sums of some label codes. Only kinds that are made of sums can be broken down this way. */
function fromSums(a: Aggregation, parts: Parts, codes: readonly number[]): Value {
  const add = (measure: string) => codes.reduce((n, c) => n + parts.sums.get(measure)![c]!, 0);
  switch (a.kind) {
    case 'sum':
      return known(add(a.measure));
    case 'ratio': {
      const den = add(a.den);
      return den === 0 ? na('zero-denominator') : known(add(a.num) / den);
    }
    default:
      return na('not-additive');
  }
}

const sortKey = (v: Value): number => ('value' in v ? v.value : Number.NEGATIVE_INFINITY);
const byCodePoint = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/**
 * The `n` largest values of a dimension by the first metric's current value, ties by label in code-point order;
 * then what is left over, and the total (SEMANTICS §7). Rows known only before count as gone: they are part of
 * the remainder, as are rows past `n`.
 */
export function topOf(
  dataset: Dataset,
  aggregations: readonly Aggregation[],
  dimension: string,
  n: number,
  range: Range,
  compared: Range | null,
  filter: Filter,
): Breakdown | { na: ReturnType<typeof na>['na'] } {
  if (!dataset.dimensions.includes(dimension)) return na('filtered-out-of-feed');
  const verdict = judgeCoverage(dataset, range);
  if (verdict && 'na' in verdict) return verdict;
  const measures = [...new Set(aggregations.flatMap(measuresOf))];
  const now = partsOf(dataset, dimension, measures, range, filter);
  const comparable = compared !== null && !('na' in (judgeCoverage(dataset, compared) ?? {}));
  const before = comparable ? partsOf(dataset, dimension, measures, compared, filter) : null;
  const absent = compared ? judgeCoverage(dataset, compared) : null;
  const labels = dataset.columns.dims[dimension]!.labels;
  const pair = (codes: readonly number[]): Pair[] =>
    aggregations.map((a) => ({
      current: fromSums(a, now, codes),
      compared: before ? fromSums(a, before, codes) : absent && 'na' in absent ? absent : null,
    }));
  const current = labels.map((_, code) => code).filter((c) => now.seen[c]);
  const gone = labels.map((_, code) => code).filter((c) => !now.seen[c] && before?.seen[c]);
  const value = new Map(current.map((c) => [c, sortKey(fromSums(aggregations[0]!, now, [c]))]));
  const ranked = current.sort((a, b) => value.get(b)! - value.get(a)! || byCodePoint(labels[a]!, labels[b]!));
  const rest = [...ranked.slice(n), ...gone];
  return {
    rows: ranked.slice(0, n).map((c) => ({
      label: labels[c]!,
      status: before && !before.seen[c] ? 'new' : 'both',
      cells: pair([c]),
    })),
    other: rest.length > 0 ? pair(rest) : null,
    total: aggregations.map((a) => ({
      current: aggregate(dataset, a, range, filter),
      compared: compared ? aggregate(dataset, a, compared, filter) : null,
    })),
    of: ranked.length + gone.length,
  };
}
