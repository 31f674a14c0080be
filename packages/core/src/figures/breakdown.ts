import { aggregate } from './aggregate.ts';
import { STANDARD } from './book.ts';
import { keptRows, rowsOf } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import type { Dataset } from './dataset.ts';
import { FEED } from './feedPart.ts';
import { ofFeeds } from './feedParts.ts';
import type { Filter } from './filter.ts';
import { formOf } from './form.ts';
import { keysOf, parseFormula } from './formula/parse.ts';
import { judgeCoverage, type Lacking } from './kinds/kind.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { byCodePoint, compareClosely } from './order.ts';
import { asPartial, isKnown, known, type NotAvailable, na, type Value } from './value.ts';

/** A figure now and in the compared range; null when nothing is compared. */
export interface Pair {
  current: Value;
  compared: Value | null;
}

/** One line of a breakdown; `cells` are in the order of the metrics asked for. */
export interface BreakdownRow {
  label: string;
  /** In which of the ranges the label has rows; `gone` rows have no current value. */
  status: 'both' | 'new' | 'gone';
  cells: Pair[];
}

export interface Breakdown {
  rows: BreakdownRow[];
  /** What the shown rows leave over, for kinds that have a remainder; null when nothing is left. */
  other: Pair[] | null;
  total: Pair[];
  /** Labels that only the current, or only the compared range has, in code-point order. */
  fresh: string[];
  gone: string[];
}

/** What a breakdown is made of. Both ends of the ranges belong. */
export interface BreakdownAsk {
  dimension: string;
  /** Rows shown before the rest. */
  n: number;
  range: CountedRange;
  compared: CountedRange | null;
  filter: Filter;
  /** By the first metric's current value, or by how far it moved either way. */
  order?: 'current' | 'change';
}

/** The figures of one range by label: which labels it has, and a metric over any of them. */
interface Side {
  has(label: string): boolean;
  labels: string[];
  value(a: Aggregation, labels: readonly string[]): Value;
}

/** Whether a metric, or what it is made from, is counted by the service itself. */
function readsUnique(a: Aggregation, metrics: MetricLookup): boolean {
  if (a.kind !== 'derived') return a.kind === 'unique';
  const parsed = parseFormula(a.formula);
  return parsed.ok && keysOf(parsed.tree).some(({ key }) => readsUnique(metrics(key), metrics));
}

/** Kinds made of sums: a remainder can be made for them. In a table of several metrics it stands in any case (§7). */
const hasRemainder = (a: Aggregation): boolean => a.kind === 'sum' || a.kind === 'ratio';

/** What is known of some feeds alone: by feed, each row has its own days (SEMANTICS §4). */
const lackOfFeeds = (d: Dataset, feeds: readonly string[], range: CountedRange): NotAvailable | Lacking | null =>
  judgeCoverage(ofFeeds(d, { [FEED]: feeds }), range);

/** Sums of every measure that `aggregations` need by label: one pass over the rows for each. */
function sumSide(
  d: Dataset,
  ask: BreakdownAsk,
  range: CountedRange,
  aggregations: readonly Aggregation[],
  metrics: MetricLookup,
  lack: Lacking | null,
): Side {
  // Of a range that was not wholly delivered every sum is partial (SEMANTICS §4); other kinds mark their own.
  const marked = (v: Value, of: readonly string[]) => {
    const own = ask.dimension === FEED ? lackOfFeeds(d, of, range) : lack;
    if (own && 'na' in own) return own;
    return own ? asPartial(v, own) : v;
  };
  const { codes, labels } = d.columns.dims[ask.dimension]!;
  const { start, end } = rowsOf(d.columns, range);
  const keep = keptRows(d.columns, ask.filter, range.without);
  const codeOf = new Map(labels.map((label, code) => [label, code]));
  const seen = new Uint8Array(labels.length);
  for (let i = start; i < end; i++) if (keep === null || keep[i] === 1) seen[codes[i]!] = 1;
  const sums = new Map<string, Float64Array>();
  const sumsOf = (term: string): Float64Array => {
    const found = sums.get(term);
    if (found) return found;
    const [measure, weight] = term.split('*') as [string, string?];
    const column = d.columns.measures[measure]!;
    const weights = weight === undefined ? null : d.columns.measures[weight]!;
    const sum = new Float64Array(labels.length);
    for (let i = start; i < end; i++) {
      if (keep === null || keep[i] === 1) sum[codes[i]!]! += weights ? column[i]! * weights[i]! : column[i]!;
    }
    sums.set(term, sum);
    return sum;
  };
  const forms = new Map(aggregations.map((a) => [a, formOf(a, metrics)]));
  const add = (linear: ReadonlyMap<string, number>, of: readonly string[]) => {
    let n = 0;
    for (const [term, by] of linear) {
      const column = sumsOf(term);
      for (const label of of) n += by * (column[codeOf.get(label) ?? -1] ?? 0);
    }
    return n;
  };
  const reported = new Set(reportedLabels(d, ask, range));
  return {
    has: (label) => seen[codeOf.get(label) ?? -1] === 1 || reported.has(label),
    labels: [...new Set([...labels.filter((_, code) => seen[code] === 1), ...reported])],
    value(a, of) {
      const form = forms.get(a);
      // People who are counted once cannot be added up; any other kind can be made of several labels together.
      if (!form && of.length !== 1 && readsUnique(a, metrics)) return na('not-additive');
      if (!form) return aggregate(d, a, range, { ...ask.filter, [ask.dimension]: of }, metrics);
      if (form.kind === 'sum') return marked(known(add(form.of, of)), of);
      const den = add(form.den, of);
      return den === 0 ? na('zero-denominator') : marked(known(add(form.num, of) / den), of);
    },
  };
}

/** Labels for which the feed itself counted something over this very range. */
const reportedLabels = (d: Dataset, ask: BreakdownAsk, range: CountedRange): string[] =>
  (d.reported ?? []).flatMap((r) =>
    r.from === range.from && r.to === range.to && r.filter[ask.dimension]?.length === 1 ? r.filter[ask.dimension]! : [],
  );

const numberOf = (v: Value | null): number | null => (v && isKnown(v) ? v.value : null);

/** Labels in the order in which they are shown (SEMANTICS §7). */
function ranked(
  first: Aggregation,
  labels: string[],
  now: Side,
  before: Side | null,
  order: 'current' | 'change',
): string[] {
  // In a sum, what is not there is nothing; elsewhere it is unknown, and has no change.
  const value = (side: Side | null, label: string) => {
    if (!side?.has(label)) return first.kind === 'sum' ? 0 : null;
    return numberOf(side.value(first, [label]));
  };
  const keys = new Map(
    labels.map((label) => {
      const current = value(now, label);
      if (order === 'current') return [label, current] as const;
      const compared = value(before, label);
      return [label, current === null || compared === null ? null : Math.abs(current - compared)] as const;
    }),
  );
  return [...labels].sort((a, b) => {
    const [x, y] = [keys.get(a)!, keys.get(b)!];
    if (x === null || y === null) return x === y ? byCodePoint(a, b) : x === null ? 1 : -1;
    return compareClosely(y, x) || byCodePoint(a, b);
  });
}

/** One dataset's part of a breakdown: both ranges by label. */
interface PartSides {
  aggregations: readonly Aggregation[];
  now: Side;
  before: Side | null;
  /** Labels that the compared range alone has. */
  gone: string[];
  pairs(of: readonly string[]): Pair[];
  total: Pair[];
}

/** What a dataset tells by label, or why it tells nothing. */
function sidesOf(
  dataset: Dataset,
  aggregations: readonly Aggregation[],
  ask: BreakdownAsk,
  metrics: MetricLookup,
): PartSides | NotAvailable {
  const { dimension, range, compared, filter } = ask;
  if (!dataset.dimensions.includes(dimension)) return na('filtered-out-of-feed');
  const verdict = judgeCoverage(dataset, range);
  if (verdict && 'na' in verdict) return verdict;
  const lack = compared && judgeCoverage(dataset, compared);
  const absent = lack && 'na' in lack ? lack : null;
  const now = sumSide(dataset, ask, range, aggregations, metrics, verdict);
  const before =
    compared && !(lack && 'na' in lack) ? sumSide(dataset, ask, compared, aggregations, metrics, lack) : null;
  return {
    aggregations,
    now,
    before,
    gone: before ? before.labels.filter((l) => !now.has(l)).sort(byCodePoint) : [],
    pairs: (of) =>
      aggregations.map((a) => ({ current: now.value(a, of), compared: before ? before.value(a, of) : absent })),
    total: aggregations.map((a) => ({
      current: aggregate(dataset, a, range, filter, metrics),
      compared: compared ? aggregate(dataset, a, compared, filter, metrics) : null,
    })),
  };
}

/**
 * The `n` labels of a dimension that lead by the first metric, then what is left over and the total (SEMANTICS §7).
 * Labels known only before count as gone: ordered by current value they are part of the remainder, ordered by change
 * they may be shown.
 */
export const topOf = (
  dataset: Dataset,
  aggregations: readonly Aggregation[],
  ask: BreakdownAsk,
  metrics: MetricLookup = STANDARD.lookup,
): Breakdown | NotAvailable => topOfMany([{ dataset, aggregations }], ask, metrics);

/**
 * A breakdown whose metrics come from several datasets that all have the dimension, joined by its labels. The first
 * dataset that knows the range leads: its first metric ranks, and its labels are called new or gone. Cells are in the
 * order of the parts and their metrics; of a part that tells nothing each says why.
 * @param parts with dates of their own where other days are left out of their metrics
 */
export function topOfMany(
  parts: readonly ({ dataset: Dataset; aggregations: readonly Aggregation[] } & Partial<
    Pick<BreakdownAsk, 'range' | 'compared'>
  >)[],
  ask: BreakdownAsk,
  metrics: MetricLookup = STANDARD.lookup,
): Breakdown | NotAvailable {
  const { n, compared, order = 'current' } = ask;
  const sides = parts.map((p) => {
    const over = { range: p.range ?? ask.range, compared: p.compared ?? ask.compared };
    return sidesOf(p.dataset, p.aggregations, { ...ask, ...over }, metrics);
  });
  const lead = sides.find((s) => !('na' in s)) as PartSides | undefined;
  if (!lead) return sides[0] as NotAvailable;
  const { now, before, gone } = lead;
  const candidates = order === 'change' ? [...now.labels, ...gone] : now.labels;
  const shown = ranked(lead.aggregations[0]!, candidates, now, before, order).slice(0, n);
  const isShown = new Set(shown);
  const cells = (of: (side: PartSides) => Pair[]): Pair[] =>
    sides.flatMap((side, i) =>
      'na' in side ? parts[i]!.aggregations.map(() => ({ current: side, compared: compared ? side : null })) : of(side),
    );
  const restOf = (side: PartSides) => [...side.now.labels, ...side.gone].filter((l) => !isShown.has(l));
  const isLeft = sides.some((side) => !('na' in side) && restOf(side).length > 0);
  const columns = parts.flatMap((p) => p.aggregations);
  return {
    rows: shown.map((label) => ({
      label,
      status: !now.has(label) ? 'gone' : before && !before.has(label) ? 'new' : 'both',
      cells: cells((side) => side.pairs([label])),
    })),
    other:
      isLeft && (columns.length > 1 || hasRemainder(columns[0]!)) ? cells((side) => side.pairs(restOf(side))) : null,
    total: cells((side) => side.total),
    fresh: before ? now.labels.filter((l) => !before.has(l)).sort(byCodePoint) : [],
    gone,
  };
}
