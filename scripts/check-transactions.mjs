import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseSync } from 'vite';

/**
 * Holds transactions to what may run twice. The function that is given to one reads and writes through its transaction alone: it
 * assigns to nothing outside of it, changes no list or map of outside, and reaches for no file, mail, worker or request. What it found,
 * it gives back.
 */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const SERVER = join(root, 'packages/server/src');

const RUNNERS = new Set(['inTransaction', 'inFactTransaction', 'runTransaction']);
/** Methods that change the list, map or set that they are called on. */
const CHANGING = new Set(['push', 'unshift', 'pop', 'shift', 'splice', 'sort', 'reverse', 'add', 'delete', 'clear']);
/** What reaches outside of the database, as a function or as a member of something. */
const OUTSIDE = new Set(['fetch', 'nudge', 'mailer', 'workers', 'setTimeout', 'setImmediate', 'crash']);
/** Modules whose functions reach outside. */
const REACHING = /^node:(fs|net|tls|https?|dns|child_process|timers)\b/;
/** Whoever asks the database around a transaction inside it waits for themselves. */
const AROUND = /^(api|tools|context)\.store$/;

/** Every node of a tree with what it stands in. */
function* nodes(node, parent = null) {
  yield [node, parent];
  for (const [key, value] of Object.entries(node)) {
    if (key === 'parent' || value === null || typeof value !== 'object') continue;
    for (const child of Array.isArray(value) ? value : [value]) if (child?.type) yield* nodes(child, node);
  }
}

function* boundBy(pattern) {
  if (!pattern) return;
  if (pattern.type === 'Identifier') yield pattern.name;
  else if (pattern.type === 'ObjectPattern') for (const p of pattern.properties) yield* boundBy(p.value ?? p.argument);
  else if (pattern.type === 'ArrayPattern') for (const p of pattern.elements) yield* boundBy(p);
  else yield* boundBy(pattern.left ?? pattern.argument);
}

const isFunction = (node) => /^(ArrowFunctionExpression|FunctionExpression|FunctionDeclaration)$/.test(node.type);

/** Names that a function brings itself: its parameters and variables, those of functions within it too. */
function ownNames(work) {
  const names = new Set();
  for (const [node] of nodes(work)) {
    const bound = isFunction(node) ? [...node.params] : node.type === 'VariableDeclarator' ? [node.id] : [];
    if (node.type === 'FunctionDeclaration') bound.push(node.id);
    for (const pattern of bound) for (const name of boundBy(pattern)) names.add(name);
  }
  return names;
}

/** The first name of `a.b[c].d`; null for what is called or made on the way. */
function firstName(node) {
  let at = node;
  while (at.type === 'MemberExpression' || at.type === 'TSNonNullExpression') at = at.object ?? at.expression;
  return at.type === 'Identifier' ? at.name : null;
}

function* faultsOf(work, reaching, text) {
  const own = ownNames(work);
  const isOuter = (node) => {
    const name = firstName(node);
    return name !== null && !own.has(name);
  };
  for (const [node] of nodes(work.body)) {
    if (node.type === 'AssignmentExpression' && isOuter(node.left)) yield [node, 'assigns to what is outside'];
    if (node.type === 'UpdateExpression' && isOuter(node.argument)) yield [node, 'counts what is outside'];
    if (node.type === 'CallExpression' && node.callee.type === 'MemberExpression' && isOuter(node.callee.object)) {
      const name = node.callee.property.name;
      // A query's own `set` takes one object, a map's takes two.
      if (CHANGING.has(name) || (name === 'set' && node.arguments.length === 2))
        yield [node, 'changes what is outside'];
    }
    if (node.type === 'MemberExpression' && AROUND.test(text.slice(node.start, node.end)))
      yield [node, 'asks the database around it'];
    if (node.type === 'MemberExpression' && OUTSIDE.has(node.property.name) && isOuter(node))
      yield [node, 'reaches outside of the database'];
    if (node.type === 'CallExpression' && node.callee.type === 'Identifier' && !own.has(node.callee.name)) {
      const { name } = node.callee;
      if (OUTSIDE.has(name) || reaching.has(name)) yield [node, 'reaches outside of the database'];
    }
  }
}

/** Transactions of a source, and what of them must not run twice, as `line: what`. */
export function checkTransactions(text, file) {
  const { program } = parseSync(file, text);
  const reaching = new Set();
  for (const { type, source, specifiers } of program.body) {
    if (type !== 'ImportDeclaration' || !REACHING.test(source.value)) continue;
    for (const { local } of specifiers) reaching.add(local.name);
  }
  let transactions = 0;
  const faults = [];
  const say = (node, what) => {
    const line = text.slice(0, node.start).split('\n').length;
    faults.push(`${line}: a transaction ${what}: ${text.slice(node.start, node.end).split('\n')[0].slice(0, 90)}`);
  };
  for (const [node] of nodes(program)) {
    if (node.type !== 'CallExpression') continue;
    const { callee } = node;
    if (callee.type === 'MemberExpression' && callee.property.name === 'transaction')
      say(node, 'that the helper does not begin');
    if (callee.type !== 'Identifier' || !RUNNERS.has(callee.name)) continue;
    transactions++;
    const work = node.arguments[1];
    if (work && isFunction(work)) for (const [at, what] of faultsOf(work, reaching, text)) say(at, what);
  }
  return { transactions, faults };
}

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path);
    else if (/(?<!\.test)\.ts$/.test(entry.name)) yield path;
  }
}

/** Files that begin transactions: the helper, and what reads one state of the facts and writes nothing. */
const BEGIN = new Set(['store/transactions.ts', 'facts/factReader.ts']);

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  let count = 0;
  const all = [];
  for (const path of sources(SERVER)) {
    const file = relative(SERVER, path).replaceAll('\\', '/');
    const { transactions, faults } = checkTransactions(readFileSync(path, 'utf8'), path);
    count += transactions;
    all.push(...(BEGIN.has(file) ? [] : faults.map((fault) => `packages/server/src/${file}:${fault}`)));
  }
  if (all.length > 0) {
    console.error(all.join('\n'));
    process.exit(1);
  }
  console.log(`  ${count} transactions may run twice`);
}
