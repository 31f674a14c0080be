import { aggregate } from './aggregate.ts';
import { keptRows, rowsOf } from './columns.ts';
import type { CountedRange } from './countedRange.ts';
import type { Dataset } from './dataset.ts';
import { driversOfRatio, driversOfSum } from './drivers.ts';
import type { Filter } from './filter.ts';
import { type Form, formOf, type Linear } from './form.ts';
import { judgeCoverage } from './kinds/kind.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { byCodePoint } from './order.ts';
import { isKnown, type NotAvailable, na } from './value.ts';

/** What one part brought to a change: all of it, and of a ratio how much by its own rate and by its weight. */
export interface Driver {
  label: string;
  by: number;
  rate?: number;
  mix?: number;
}

/** A change divided among the parts of a dimension, the largest part first; parts and `residual` add up to it. */
export interface Drivers {
  kind: 'sum' | 'ratio';
  current: number;
  compared: number;
  change: number;
  /** Of a ratio: numerators without a denominator of their own. */
  residual: number;
  items: Driver[];
}

export interface DriversAsk {
  dimension: string;
  range: CountedRange;
  compared: CountedRange;
  filter: Filter;
}

/** Sums of a linear form by label over one range: one pass for each of its terms. */
function sumsByLabel(dataset: Dataset, ask: DriversAsk, range: CountedRange, linear: Linear): Map<string, number> {
  const { columns } = dataset;
  const { codes, labels } = columns.dims[ask.dimension]!;
  const { start, end } = rowsOf(columns, range);
  const keep = keptRows(columns, ask.filter, range.without);
  const sums = new Float64Array(labels.length);
  const seen = new Uint8Array(labels.length);
  for (const [term, by] of linear) {
    const [measure, weight] = term.split('*') as [string, string?];
    const values = columns.measures[measure]!;
    const weights = weight === undefined ? null : columns.measures[weight]!;
    for (let i = start; i < end; i++) {
      if (keep !== null && keep[i] === 0) continue;
      seen[codes[i]!] = 1;
      sums[codes[i]!]! += by * values[i]! * (weights ? weights[i]! : 1);
    }
  }
  return new Map(labels.flatMap((label, code) => (seen[code] === 1 ? [[label, sums[code]!] as const] : [])));
}

const inOrder = (items: Driver[]): Driver[] =>
  items.sort((a, b) => Math.abs(b.by) - Math.abs(a.by) || byCodePoint(a.label, b.label));

function ofForm(dataset: Dataset, form: Form, ask: DriversAsk): Drivers | NotAvailable {
  if (form.kind === 'sum') {
    const parts = (range: CountedRange) =>
      [...sumsByLabel(dataset, ask, range, form.of)].map(([label, value]) => ({ label, value }));
    return ofSums(parts(ask.range), parts(ask.compared));
  }
  const parts = (range: CountedRange) => {
    const dens = sumsByLabel(dataset, ask, range, form.den);
    return [...sumsByLabel(dataset, ask, range, form.num)].map(([label, num]) => ({
      label,
      num,
      den: dens.get(label) ?? 0,
    }));
  };
  const found = driversOfRatio(parts(ask.range), parts(ask.compared));
  if ('na' in found) return found;
  const { current, compared, residual } = found;
  const items = found.items.map((i) => ({ ...i, by: i.rate + i.mix }));
  return { kind: 'ratio', current, compared, change: current - compared, residual, items: inOrder(items) };
}

function ofSums(current: { label: string; value: number }[], compared: { label: string; value: number }[]): Drivers {
  const sum = (side: { value: number }[]) => side.reduce((n, p) => n + p.value, 0);
  const { total, items } = driversOfSum(current, compared);
  return {
    kind: 'sum',
    current: sum(current),
    compared: sum(compared),
    change: total,
    residual: 0,
    items: inOrder(items.map(({ label, contribution }) => ({ label, by: contribution }))),
  };
}

/** A level's parts: each label's own level at the end of the range. */
function ofLevel(dataset: Dataset, a: Aggregation, ask: DriversAsk, metrics: MetricLookup): Drivers {
  const parts = (range: CountedRange) =>
    dataset.columns.dims[ask.dimension]!.labels.flatMap((label) => {
      const value = aggregate(dataset, a, range, { ...ask.filter, [ask.dimension]: [label] }, metrics);
      return isKnown(value) ? [{ label, value: value.value }] : [];
    });
  return ofSums(parts(ask.range), parts(ask.compared));
}

/**
 * What each part of a dimension brought to a metric's change between two ranges, both ends included (SEMANTICS §7).
 * Sums and levels divide by difference, ratios and weighted means by rate and mix; formulas that come to either of
 * these too. What cannot be divided: `not-additive`. A range of which nothing was delivered gives its reason.
 */
export function driversOf(
  dataset: Dataset,
  aggregation: Aggregation,
  ask: DriversAsk,
  metrics: MetricLookup,
): Drivers | NotAvailable {
  if (!dataset.dimensions.includes(ask.dimension)) return na('filtered-out-of-feed');
  for (const range of [ask.range, ask.compared]) {
    const verdict = judgeCoverage(dataset, range);
    if (verdict && 'na' in verdict) return verdict;
    // Nothing is told of a change from or to a figure that is partly known (SEMANTICS §4).
    const whole = aggregate(dataset, aggregation, range, ask.filter, metrics);
    if (isKnown(whole) && whole.partial) return na('partial');
  }
  if (aggregation.kind === 'level') return ofLevel(dataset, aggregation, ask, metrics);
  const form = formOf(aggregation, metrics);
  return form ? ofForm(dataset, form, ask) : na('not-additive');
}

/** True for metrics whose change can be divided among parts. */
export const hasDrivers = (a: Aggregation, metrics: MetricLookup): boolean =>
  a.kind === 'level' || formOf(a, metrics) !== null;
