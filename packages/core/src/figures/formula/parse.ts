import { FORMULA } from '../../bounds/index.ts';

/** A formula as a tree. `at` is the position of the token that made it: 0-based, in UTF-16 units. */
export type Node =
  | { kind: 'number'; value: number; at: number }
  | { kind: 'key'; key: string; at: number }
  | { kind: 'negate'; of: Node; at: number }
  | { kind: 'binary'; operator: '+' | '-' | '*' | '/'; left: Node; right: Node; at: number }
  | { kind: 'call'; name: FunctionName; args: Node[]; at: number };

export const FUNCTIONS = { min: null, max: null, abs: 1, round: 1 } as const;
export type FunctionName = keyof typeof FUNCTIONS;

/** What is wrong with a formula, and where its faulty token begins. */
export interface FormulaFault {
  code: 'syntax' | 'unknown-key' | 'cycle' | 'mixed-units' | 'too-large';
  at: number;
  message: string;
}

/** Longest formula and deepest nesting that are read: a hostile one gets an answer, not a hang. */
const { characters: LONGEST, depth: DEEPEST } = FORMULA;

interface Token {
  text: string;
  at: number;
  type: 'number' | 'name' | 'sign' | 'end';
}

class Fault extends Error {
  constructor(readonly fault: FormulaFault) {
    super(fault.message);
  }
}

const syntax = (at: number, message: string): Fault => new Fault({ code: 'syntax', at, message });

function tokensOf(formula: string): Token[] {
  const tokens: Token[] = [];
  const pattern = /\s*(?:(\d+(?:\.\d+)?)|([A-Za-z_][A-Za-z0-9_]*)|([-+*/(),]))/y;
  let at = 0;
  while (formula.slice(at).trim() !== '') {
    pattern.lastIndex = at;
    const m = pattern.exec(formula);
    const start = at + /^\s*/.exec(formula.slice(at))![0].length;
    if (!m) throw syntax(start, `Unexpected “${formula[start]}”.`);
    tokens.push({ text: m[1] ?? m[2] ?? m[3]!, at: start, type: m[1] ? 'number' : m[2] ? 'name' : 'sign' });
    at = pattern.lastIndex;
  }
  tokens.push({ text: '', at: formula.length, type: 'end' });
  return tokens;
}

class Parser {
  private next = 0;
  private depth = 0;

  constructor(private readonly tokens: Token[]) {}

  private get token(): Token {
    return this.tokens[this.next]!;
  }

  private take(text: string): boolean {
    if (this.token.type !== 'sign' || this.token.text !== text) return false;
    this.next++;
    return true;
  }

  whole(): Node {
    const node = this.sum();
    if (this.token.type !== 'end') throw syntax(this.token.at, `Unexpected “${this.token.text}”.`);
    return node;
  }

  private sum(): Node {
    return this.chain(['+', '-'], () => this.chain(['*', '/'], () => this.unary()));
  }

  /** Operators of one rank, from left to right. */
  private chain(operators: readonly string[], operand: () => Node): Node {
    let left = operand();
    for (;;) {
      const { at, text, type } = this.token;
      if (type !== 'sign' || !operators.includes(text)) return left;
      this.next++;
      left = { kind: 'binary', operator: text as '+', left, right: operand(), at };
    }
  }

  private unary(): Node {
    const { at } = this.token;
    if (++this.depth > DEEPEST) throw syntax(at, 'The formula is nested too deeply.');
    const node: Node = this.take('-') ? { kind: 'negate', of: this.unary(), at } : this.operand();
    this.depth--;
    return node;
  }

  private operand(): Node {
    const token = this.token;
    this.next++;
    if (token.type === 'number') {
      const value = Number(token.text);
      if (!Number.isFinite(value)) throw syntax(token.at, 'This number is too large.');
      return { kind: 'number', value, at: token.at };
    }
    if (token.type === 'name')
      return this.take('(') ? this.call(token) : { kind: 'key', key: token.text, at: token.at };
    if (token.text === '(') {
      const node = this.sum();
      this.close(token.at);
      return node;
    }
    this.next--;
    throw syntax(token.at, token.type === 'end' ? 'The formula is incomplete.' : `Unexpected “${token.text}”.`);
  }

  private close(opened: number): void {
    if (this.take(')')) return;
    if (this.token.type === 'end') throw syntax(opened, 'Missing closing parenthesis.');
    throw syntax(this.token.at, `Unexpected “${this.token.text}”.`);
  }

  private call(name: Token): Node {
    if (!Object.hasOwn(FUNCTIONS, name.text)) {
      throw new Fault({ code: 'unknown-key', at: name.at, message: `Unknown function: ${name.text}.` });
    }
    const args = [this.sum()];
    while (this.take(',')) args.push(this.sum());
    this.close(name.at);
    const wanted = FUNCTIONS[name.text as FunctionName];
    if (wanted !== null && args.length !== wanted) throw syntax(name.at, `${name.text} takes one value.`);
    return { kind: 'call', name: name.text as FunctionName, args, at: name.at };
  }
}

/** Reads a formula (SEMANTICS §5). It is read, never run as code. */
export function parseFormula(formula: string): { ok: true; tree: Node } | { ok: false; fault: FormulaFault } {
  try {
    if (formula.length > LONGEST) throw syntax(LONGEST, `A formula has at most ${LONGEST} characters.`);
    return { ok: true, tree: new Parser(tokensOf(formula)).whole() };
  } catch (error) {
    if (error instanceof Fault) return { ok: false, fault: error.fault };
    throw error;
  }
}

/** Every metric key of a formula with its position, in reading order. */
export function keysOf(node: Node): { key: string; at: number }[] {
  switch (node.kind) {
    case 'number':
      return [];
    case 'key':
      return [{ key: node.key, at: node.at }];
    case 'negate':
      return keysOf(node.of);
    case 'binary':
      return [...keysOf(node.left), ...keysOf(node.right)];
    case 'call':
      return node.args.flatMap(keysOf);
  }
}
