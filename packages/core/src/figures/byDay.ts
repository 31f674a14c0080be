import { addDays, daysOf, type Range } from '../calendar/index.ts';
import { STANDARD } from './book.ts';
import type { CountedRange } from './countedRange.ts';
import { coveredFlags } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import type { Filter } from './filter.ts';
import { evaluateFormula } from './formula/evaluate.ts';
import { parseFormula } from './formula/parse.ts';
import { type Ask, dailyTotals, type Selection, select } from './kinds/kind.ts';
import { dailyLevels } from './kinds/level.ts';
import { kindOf } from './kinds/registry.ts';
import type { Aggregation, MetricLookup } from './metric.ts';
import { isKnown, na } from './value.ts';

/** One value a day; null where the day was not delivered, does not count or has no value. */
export type DailyValues = (number | null)[];

const finite = (n: number): number | null => (Number.isFinite(n) ? n : null);
const orNull = (n: number | null): number | null => (n === null ? null : finite(n));

/** Σ value·weight of each day. */
function dailyProducts(selection: Selection, value: string, weight: string, range: Range): Float64Array {
  const { measures } = selection.columns;
  const products = measures[value]!.slice();
  const weights = measures[weight]!;
  for (let i = selection.start; i < selection.end; i++) products[i]! *= weights[i]!;
  const columns = { ...selection.columns, measures: { product: products } };
  return dailyTotals({ ...selection, columns }, 'product', range);
}

function dailyOver(nums: Float64Array, dens: Float64Array): (number | null)[] {
  return Array.from(nums, (n, i) => finite(n / dens[i]!));
}

/** A formula of each day's inputs; a day on which one of them is unknown has no value. */
export function dailyFormula(formula: string, inputOf: (key: string) => DailyValues, days: number): DailyValues {
  const parsed = parseFormula(formula);
  if (!parsed.ok) return Array.from({ length: days }, () => null);
  const inputs = new Map<string, DailyValues>();
  const input = (key: string) => {
    const found = inputs.get(key) ?? inputOf(key);
    inputs.set(key, found);
    return found;
  };
  return Array.from({ length: days }, (_, i) => {
    const value = evaluateFormula(parsed.tree, (key) => {
      const v = input(key)[i];
      return v === null || v === undefined ? na('no-data') : { value: v };
    });
    return isKnown(value) ? value.value : null;
  });
}

/** Every day's value of one kind, in as few passes over the rows as it takes; days not delivered included. */
function valuesOf(a: Aggregation, ask: Ask): DailyValues {
  const { dataset, range, metrics, filter } = ask;
  switch (a.kind) {
    case 'sum':
    case 'min':
    case 'max':
      return Array.from(dailyTotals(select(ask), a.measure, range));
    case 'ratio':
      return dailyOver(dailyTotals(select(ask), a.num, range), dailyTotals(select(ask), a.den, range));
    case 'weighted': {
      const selection = select(ask);
      return dailyOver(dailyProducts(selection, a.measure, a.weight, range), dailyTotals(selection, a.weight, range));
    }
    case 'level': {
      const levels = dailyLevels(a, { ...ask, range: { from: addDays(range.from, -1), to: range.to } });
      if (!a.net) return levels.slice(1);
      return levels.slice(1).map((v, i) => (v === null || levels[i] === null ? null : v - levels[i]!));
    }
    case 'derived':
      return dailyFormula(
        a.formula,
        (key) => byDay(dataset, metrics(key), range, filter, metrics),
        daysOf(range).length,
      );
    case 'unique':
      return daysOf(range).map((day) => {
        const value = kindOf(a).value(a, { ...ask, range: { from: day, to: day } });
        return isKnown(value) ? value.value : null;
      });
  }
}

/** A metric's value on each day of the range, in order; null where the day was not delivered, does not count or has no value. */
export function byDay(
  dataset: Dataset,
  a: Aggregation,
  range: CountedRange,
  filter: Filter,
  metrics: MetricLookup = STANDARD.lookup,
): DailyValues {
  const delivered = coveredFlags(dataset.covered, range);
  if ((dataset.grain ?? 'day') !== 'day') return Array.from(delivered, () => null);
  return valuesOf(a, { dataset, range, filter, metrics }).map((v, i) => (delivered[i] === 1 ? orNull(v) : null));
}
