import { evaluateFormula } from '../formula/evaluate.ts';
import { keysOf, parseFormula } from '../formula/parse.ts';
import type { Aggregation } from '../metric.ts';
import { na, type Value } from '../value.ts';
import { type Kind, type KindLookup, typicalOf } from './kind.ts';

type Derived = Extract<Aggregation, { kind: 'derived' }>;

function evaluate(a: Derived, inputOf: (key: string) => Value): Value {
  const parsed = parseFormula(a.formula);
  return parsed.ok ? evaluateFormula(parsed.tree, inputOf) : na('no-data');
}

/** A formula over the aggregated values of its inputs (SEMANTICS §4, §5). Circles are refused when it is saved. */
export const derived = (kindOf: KindLookup): Kind<Derived> => ({
  measures(a, metrics) {
    const parsed = parseFormula(a.formula);
    const keys = parsed.ok ? keysOf(parsed.tree) : [];
    return [...new Set(keys.flatMap(({ key }) => kindOf(metrics(key)).measures(metrics(key), metrics)))];
  },
  value: (a, ask) => evaluate(a, (key) => kindOf(ask.metrics(key)).value(ask.metrics(key), ask)),
  typical: (a, asks) =>
    evaluate(a, (key) => {
      const input = asks[0]!.metrics(key);
      return typicalOf(kindOf(input), input, asks);
    }),
});
