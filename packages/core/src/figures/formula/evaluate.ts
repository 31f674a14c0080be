import { asPartial, isKnown, type Known, known, na, type Value } from '../value.ts';
import type { Node } from './parse.ts';

/** Halves away from zero. */
export const roundHalfAway = (x: number): number => Math.sign(x) * Math.round(Math.abs(x));

/** A value that is as partial as the most partial of what it was made from. */
function from(inputs: readonly Known[], value: number): Value {
  const result = known(value);
  const partial = inputs.filter((v) => v.partial);
  if (!isKnown(result) || partial.length === 0) return result;
  const shares = partial.flatMap((v) => (v.share === undefined ? [] : [v.share]));
  const feeds = [...new Map(partial.flatMap((v) => v.feeds ?? []).map((f) => [JSON.stringify(f), f])).values()];
  return asPartial(result, {
    ...(shares.length > 0 && { share: Math.min(...shares) }),
    ...(feeds.length > 0 && { feeds }),
  });
}

function call(name: 'min' | 'max' | 'abs' | 'round', values: readonly number[]): number {
  switch (name) {
    case 'min':
      return Math.min(...values);
    case 'max':
      return Math.max(...values);
    case 'abs':
      return Math.abs(values[0]!);
    case 'round':
      return roundHalfAway(values[0]!);
  }
}

/**
 * The value of a formula over the values of its keys. What is not available passes through with its first reason,
 * from left to right; a division by zero is `zero-denominator` (SEMANTICS §5).
 */
export function evaluateFormula(node: Node, inputOf: (key: string) => Value): Value {
  switch (node.kind) {
    case 'number':
      return { value: node.value };
    case 'key':
      return inputOf(node.key);
    case 'negate': {
      const v = evaluateFormula(node.of, inputOf);
      return isKnown(v) ? from([v], -v.value) : v;
    }
    case 'binary': {
      const left = evaluateFormula(node.left, inputOf);
      if (!isKnown(left)) return left;
      const right = evaluateFormula(node.right, inputOf);
      if (!isKnown(right)) return right;
      const [a, b] = [left.value, right.value];
      if (node.operator === '/' && b === 0) return na('zero-denominator');
      const result = { '+': a + b, '-': a - b, '*': a * b, '/': a / b }[node.operator];
      return from([left, right], result);
    }
    case 'call': {
      const values: Known[] = [];
      for (const arg of node.args) {
        const v = evaluateFormula(arg, inputOf);
        if (!isKnown(v)) return v;
        values.push(v);
      }
      return from(
        values,
        call(
          node.name,
          values.map((v) => v.value),
        ),
      );
    }
  }
}
