import { FORMULA } from '../../bounds/index.ts';
import type { MetricUnit } from '../metric.ts';
import type { KnownMetrics } from './knownMetrics.ts';
import { type FormulaFault, keysOf, type Node, parseFormula } from './parse.ts';
import { TOO_HEAVY, weightOf } from './weight.ts';

/** Powers of money, count and time; null for a bare number, which goes with anything. */
type Measure = Readonly<Record<'money' | 'count' | 'duration', number>> | null;

const NONE = { money: 0, count: 0, duration: 0 };

const measureOf = (unit: MetricUnit): Measure =>
  unit === 'money' || unit === 'count' || unit === 'duration' ? { ...NONE, [unit]: 1 } : NONE;

const combine = (a: Measure, b: Measure, sign: 1 | -1): Measure => {
  if (a === null && b === null) return null;
  const [x, y] = [a ?? NONE, b ?? NONE];
  return { money: x.money + sign * y.money, count: x.count + sign * y.count, duration: x.duration + sign * y.duration };
};

const alike = (a: Measure, b: Measure): boolean =>
  a === null || b === null || (a.money === b.money && a.count === b.count && a.duration === b.duration);

class Mixed extends Error {
  constructor(readonly at: number) {
    super('mixed units');
  }
}

/** The unit of a formula. @throws Mixed where unlike things are added */
function unitOf(node: Node, unitOfKey: (key: string) => Measure): Measure {
  switch (node.kind) {
    case 'number':
      return null;
    case 'key':
      return unitOfKey(node.key);
    case 'negate':
      return unitOf(node.of, unitOfKey);
    case 'call':
      return node.args.map((a) => unitOf(a, unitOfKey)).find((u) => u !== null) ?? null;
    case 'binary': {
      const left = unitOf(node.left, unitOfKey);
      const right = unitOf(node.right, unitOfKey);
      if (node.operator === '*' || node.operator === '/') return combine(left, right, node.operator === '*' ? 1 : -1);
      if (!alike(left, right)) throw new Mixed(node.at);
      return left ?? right;
    }
  }
}

/** True when the formula of `key` leads to `target` by way of other derived metrics. */
function leadsTo(key: string, target: string, metrics: KnownMetrics, seen: Set<string>): boolean {
  if (key === target) return true;
  if (seen.has(key)) return false;
  seen.add(key);
  const formula = Object.hasOwn(metrics, key) ? metrics[key]!.formula : undefined;
  const parsed = formula === undefined ? null : parseFormula(formula);
  return parsed?.ok === true && keysOf(parsed.tree).some((k) => leadsTo(k.key, target, metrics, seen));
}

const tooHeavy: FormulaFault = {
  code: 'too-large',
  at: 0,
  message: `A formula can use at most ${FORMULA.metrics} metrics, including the ones they are calculated from.`,
};

/**
 * What keeps a formula from being saved as metric `key`, or null: unreadable, a key that is not known, a circle, or
 * a sum of unlike things such as money and counts (SEMANTICS §5).
 */
export function checkFormula(key: string, formula: string, metrics: KnownMetrics): FormulaFault | null {
  const parsed = parseFormula(formula);
  if (!parsed.ok) return parsed.fault;
  for (const used of keysOf(parsed.tree)) {
    if (used.key !== key && !Object.hasOwn(metrics, used.key)) {
      return { code: 'unknown-key', at: used.at, message: `Unknown metric: ${used.key}.` };
    }
    if (leadsTo(used.key, key, metrics, new Set())) {
      return { code: 'cycle', at: used.at, message: `${used.key} is itself calculated from ${key}.` };
    }
  }
  if (weightOf(formula, metrics) >= TOO_HEAVY) return tooHeavy;
  // Others are made from this one: they must not grow too heavy by it.
  const changed = { ...metrics, [key]: { unit: metrics[key]?.unit ?? 'count', formula } };
  for (const [other, { formula: inner }] of Object.entries(metrics)) {
    if (other === key || inner === undefined) continue;
    if (weightOf(inner, metrics) < TOO_HEAVY && weightOf(inner, changed) >= TOO_HEAVY) return tooHeavy;
  }
  const unitOfKey = (k: string): Measure => {
    const { unit, formula: inner } = metrics[k]!;
    const tree = inner === undefined ? null : parseFormula(inner);
    return tree?.ok ? unitOf(tree.tree, unitOfKey) : measureOf(unit);
  };
  try {
    unitOf(parsed.tree, unitOfKey);
    return null;
  } catch (error) {
    if (!(error instanceof Mixed)) throw error;
    return {
      code: 'mixed-units',
      at: error.at,
      message: 'Can’t add different units (e.g. money and counts).',
    };
  }
}
