import { type Node, parseFormula } from './formula/parse.ts';
import type { Aggregation, MetricLookup } from './metric.ts';

/** A sum of measures, each times a number. A term `a*b` is the sum of row by row products. */
export type Linear = ReadonlyMap<string, number>;

/** A metric as a sum over rows, or one such sum over another: what can be divided exactly among parts. */
export type Form = { kind: 'sum'; of: Linear } | { kind: 'ratio'; num: Linear; den: Linear };

/** A form while a formula is read; `number` is a bare constant. */
type Piece = Form | { kind: 'number'; value: number };

const one = (term: string): Linear => new Map([[term, 1]]);

const scaled = (of: Linear, by: number): Linear => new Map([...of].map(([term, n]) => [term, n * by]));

function added(a: Linear, b: Linear): Linear {
  const out = new Map(a);
  for (const [term, n] of b) out.set(term, (out.get(term) ?? 0) + n);
  return out;
}

const same = (a: Linear, b: Linear): boolean => a.size === b.size && [...a].every(([t, n]) => b.get(t) === n);

function times(piece: Piece, by: number): Piece {
  switch (piece.kind) {
    case 'number':
      return { kind: 'number', value: piece.value * by };
    case 'sum':
      return { kind: 'sum', of: scaled(piece.of, by) };
    case 'ratio':
      return { ...piece, num: scaled(piece.num, by) };
  }
}

function plus(a: Piece, b: Piece): Piece | null {
  if (a.kind === 'number' && b.kind === 'number') return { kind: 'number', value: a.value + b.value };
  if (a.kind === 'sum' && b.kind === 'sum') return { kind: 'sum', of: added(a.of, b.of) };
  if (a.kind === 'ratio' && b.kind === 'ratio' && same(a.den, b.den)) return { ...a, num: added(a.num, b.num) };
  return null;
}

function binary(operator: '+' | '-' | '*' | '/', a: Piece, b: Piece): Piece | null {
  switch (operator) {
    case '+':
      return plus(a, b);
    case '-':
      return plus(a, times(b, -1));
    case '*':
      if (b.kind === 'number') return times(a, b.value);
      return a.kind === 'number' ? times(b, a.value) : null;
    case '/':
      if (b.kind === 'number') return b.value === 0 ? null : times(a, 1 / b.value);
      return a.kind === 'sum' && b.kind === 'sum' ? { kind: 'ratio', num: a.of, den: b.of } : null;
  }
}

function pieceOf(node: Node, metrics: MetricLookup): Piece | null {
  switch (node.kind) {
    case 'number':
      return { kind: 'number', value: node.value };
    case 'key':
      return formOf(metrics(node.key), metrics);
    case 'negate': {
      const of = pieceOf(node.of, metrics);
      return of && times(of, -1);
    }
    case 'binary': {
      const left = pieceOf(node.left, metrics);
      const right = pieceOf(node.right, metrics);
      return left && right && binary(node.operator, left, right);
    }
    case 'call':
      return null;
  }
}

/** How a metric is made of sums over rows; null for one that is not (a level, a unique, an extreme, `max(a, b)`). */
export function formOf(a: Aggregation, metrics: MetricLookup): Form | null {
  switch (a.kind) {
    case 'sum':
      return { kind: 'sum', of: one(a.measure) };
    case 'ratio':
      return { kind: 'ratio', num: one(a.num), den: one(a.den) };
    case 'weighted':
      return { kind: 'ratio', num: one(`${a.measure}*${a.weight}`), den: one(a.weight) };
    case 'derived': {
      const parsed = parseFormula(a.formula);
      const piece = parsed.ok ? pieceOf(parsed.tree, metrics) : null;
      return piece === null || piece.kind === 'number' ? null : piece;
    }
    default:
      return null;
  }
}
