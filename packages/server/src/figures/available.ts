import {
  type Aggregation,
  keysOf,
  type Metric,
  type MetricBook,
  measuresOf,
  parseFormula,
} from '@chronicon/core/figures';
import type { CoveredShape } from '../facts/coveredShape.ts';

/** Whether datasets hold all that a metric is made from; a formula's inputs may lie in several. */
export function isAvailable(a: Aggregation, shapes: readonly CoveredShape[], book: MetricBook): boolean {
  const measures = measuresOf(a, book.lookup);
  if (shapes.some((s) => measures.every((m) => s.measures.includes(m)))) return true;
  if (a.kind !== 'derived') return false;
  const parsed = parseFormula(a.formula);
  return parsed.ok && keysOf(parsed.tree).every(({ key }) => isAvailable(book.lookup(key), shapes, book));
}

/** What a metric can be broken down by: by all that a dataset which holds it has. */
export const dimensionsOf = (m: Metric, shapes: readonly CoveredShape[], book: MetricBook): string[] => {
  const measures = measuresOf(m.aggregation, book.lookup);
  const holding = shapes.filter((s) => measures.every((x) => s.measures.includes(x)));
  return [...new Set(holding.flatMap((s) => [...s.dimensions]))];
};
