import { FORMULA } from '../../bounds/index.ts';
import type { KnownMetrics } from './knownMetrics.ts';
import { keysOf, parseFormula } from './parse.ts';

/** More than any formula may come to; what is heavier, or made from itself, is not weighed further. */
export const TOO_HEAVY = FORMULA.metrics + 1;

const named = new Map<string, readonly string[]>();
const MOST_KEPT = 2_000;

/** The keys that a formula names, each as often as it does; none of one that cannot be read. */
function keysIn(formula: string): readonly string[] {
  const known = named.get(formula);
  if (known) return known;
  const parsed = parseFormula(formula);
  const keys = parsed.ok ? keysOf(parsed.tree).map((k) => k.key) : [];
  if (named.size >= MOST_KEPT) named.clear();
  named.set(formula, keys);
  return keys;
}

/**
 * How many metrics a formula reads once those that it is made from are counted with all of theirs, each as often as it
 * is named: what evaluating it costs. At most {@link TOO_HEAVY}, which also a circle comes to.
 */
export function weightOf(formula: string, metrics: KnownMetrics): number {
  const known = new Map<string, number>();
  const open = new Set<string>();
  const weigh = (text: string): number => {
    let sum = 0;
    for (const key of keysIn(text)) {
      sum += ofKey(key);
      if (sum >= TOO_HEAVY) return TOO_HEAVY;
    }
    return sum;
  };
  const ofKey = (key: string): number => {
    const found = known.get(key);
    if (found !== undefined) return found;
    if (open.has(key)) return TOO_HEAVY;
    const inner = Object.hasOwn(metrics, key) ? metrics[key]!.formula : undefined;
    open.add(key);
    const weight = inner === undefined ? 1 : Math.min(TOO_HEAVY, 1 + weigh(inner));
    open.delete(key);
    known.set(key, weight);
    return weight;
  };
  return weigh(formula);
}
