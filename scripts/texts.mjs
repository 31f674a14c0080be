import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { parseSync } from 'vite';

/**
 * Lists every text of the interface with its place: what screens show, and what the server says about errors, on the Desk and in
 * mails to members. Names a text that uses a word which has a better one (`BETTER`), so that one thing keeps one name.
 *
 *     npm run texts                 every text
 *     npm run texts -- schedule     texts with this word
 *     npm run texts -- --check      only those with a word to replace; fails when there is one
 */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Where texts of the interface are. Words of reports are in `core/words` and read there, language by language. */
const ROOMS = ['packages/web/src', 'packages/server/src', 'packages/core/src'];
const LEFT_OUT =
  /\.test\.tsx?$|\/(test|testing|golden|gallery|words\/grid|server\/src\/store|words\/(en|de|fr|es|it|nl|pl|ru|he)[^/]*)(\/|\.ts$)|\.d\.ts$/;

/** Attributes whose texts nobody sees. */
const SILENT = new Set(
  'className style to href type variant size id role name key color align justify position rel target method autoComplete inputMode aria-live d viewBox fill stroke aria-current data-testid htmlFor'.split(
    ' ',
  ),
);
/** Functions whose texts nobody sees: failures of the program itself, selectors, logs; on the server, queries. */
const PRIVATE =
  /^(Error|RangeError|TypeError|querySelector|querySelectorAll|addEventListener|startsWith|endsWith|includes|split|matchMedia|exec)$/;
const PRIVATE_ON_SERVER =
  /^(sql|where|select|selectAll|selectFrom|innerJoin|leftJoin|orderBy|groupBy|updateTable|insertInto|deleteFrom|addColumn|createTable|createIndex|log|warn|info|debug|error|prepare|join|describe)$/;

/** Words that have a better one, and the one to use. */
export const BETTER = [
  [/\bsomebody\b/i, 'someone'],
  [/\bheld against\b/i, 'compared with'],
  [/\b(put|puts) (it |them |this )?(aside|away)\b/i, 'deactivate, dismiss'],
  [/\bput aside\b/i, 'inactive, skipped'],
  [/\bsign(ed|s)?[ -]off\b/i, 'approve, approval'],
  [/\b(let|lets) (it|them) go\b/i, 'approve, resume'],
  [/\b(leave|leaves|left) (it |them |this )?out\b/i, 'skip, hide, exclude'],
  [/\b(take|takes|took|taken) (it |them |this )?(back|away|up)\b/i, 'undo, remove, restore'],
  [/\b(bring|brings|brought)\b/i, 'upload, provide'],
  [/\bodd days?\b/i, 'unusual day'],
  [/\btold of\b/i, 'notified'],
  [/\bby (itself|themselves)\b/i, 'automatically'],
  [/\b(is|are) to be had\b/i, 'available'],
  [/\bsecond factor\b/i, 'two-factor authentication'],
  [/\bmails?\b(?! FROM)/i, 'email'],
  [/\bthere is no such\b/i, 'not found'],
  [/\b(for good|for a while)\b/i, 'permanently, temporarily'],
  [/\btypefaces?\b/i, 'font'],
  [/\bturn(s|ed)? .* round\b/i, 'reverses'],
  [/\bmeanwhile\b/i, 'in the meantime'],
  [/\bstands? (in|on|there|at)\b/i, 'is shown, is used'],
  [/\b(as|than) it (stands|stood)\b/i, 'unchanged'],
];
/** Terms of the trade in which one of those words is right. */
const RIGHT = /\bmail (server|provider|program)s?\b/gi;

function* files(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* files(path);
    else if (/\.tsx?$/.test(entry.name) && !LEFT_OUT.test(`/${relative(root, path)}`)) yield path;
  }
}

const whole = (text) => text.replace(/\s+/g, ' ').trim();
const hasWords = (text) => /\p{L}{2}/u.test(text.replace(/\{…\}/g, ''));
/** Whether a string of code is written for a person: words with a space between them, or one that begins large. */
const isProse = (text) =>
  hasWords(text) &&
  (/^[^\w]*\p{Lu}\p{Ll}+/u.test(text) || /\p{L}[\p{L}’,.:;…]* [\p{L}“{(]/u.test(text)) &&
  !/^[\w-]+(: ?| [.#>])/.test(text);

/** A string, a template or strings that are added up, with `{…}` for what comes from data; null for what is none. */
function stringOf(node) {
  if (node.type === 'Literal') return typeof node.value === 'string' ? node.value : null;
  if (node.type === 'TemplateLiteral')
    return node.quasis.map((q, i) => (i === 0 ? '' : '{…}') + (q.value.cooked ?? '')).join('');
  if (node.type === 'BinaryExpression' && node.operator === '+') {
    const [left, right] = [stringOf(node.left), stringOf(node.right)];
    return left === null && right === null ? null : `${left ?? '{…}'}${right ?? '{…}'}`;
  }
  return null;
}

/** What an element says, its inline elements among it; null when it says nothing itself. */
function saidBy(element) {
  const own = element.children.some((c) => c.type === 'JSXText' && hasWords(c.value));
  if (!own) return null;
  return whole(
    element.children
      .map((c) => {
        if (c.type === 'JSXText') return c.value;
        if (c.type === 'JSXExpressionContainer')
          return c.expression.type === 'Literal' ? String(c.expression.value) : '{…}';
        if (c.type === 'JSXElement' || c.type === 'JSXFragment') return ` ${saidBy(c) ?? '{…}'} `;
        return '';
      })
      .join(''),
  );
}

const calleeOf = (node) =>
  node.callee?.type === 'Identifier' ? node.callee.name : (node.callee?.property?.name ?? node.tag?.name ?? '');

function textsOf(path) {
  const source = readFileSync(path, 'utf8');
  const isServer = path.includes('/packages/server/');
  const isPrivate = (name) => PRIVATE.test(name) || (isServer && PRIVATE_ON_SERVER.test(name));
  const found = [];
  const lineOf = (at) => source.slice(0, at).split('\n').length;
  const add = (node, text) => text && hasWords(text) && found.push({ line: lineOf(node.start), text: whole(text) });
  const walk = (node, within) => {
    if (!node || typeof node !== 'object') return;
    if (Array.isArray(node)) {
      for (const n of node) walk(n, within);
      return;
    }
    if (!node.type) return;
    if (/^(Import|Export(All|Named)Declaration$|TS)/.test(node.type) && !node.declaration && !node.expression) return;
    if (/^(CallExpression|NewExpression|TaggedTemplateExpression)$/.test(node.type) && isPrivate(calleeOf(node))) {
      // Functions that are given to them may say something.
      for (const a of node.arguments ?? []) if (/Function/.test(a.type)) walk(a, within);
      walk(node.callee?.object, within);
      return;
    }
    if (node.type === 'JSXAttribute') {
      const name = node.name.name ?? '';
      if (SILENT.has(name)) return;
      if (node.value?.type === 'Literal') add(node, node.value.value);
      else walk(node.value, within);
      return;
    }
    if (node.type === 'JSXElement' || node.type === 'JSXFragment') {
      const said = saidBy(node);
      if (said !== null && !within.said) add(node, said);
      walk(node.openingElement?.attributes, { ...within, said: false });
      const inner = { ...within, said: said !== null };
      for (const c of node.children) {
        if (c.type === 'JSXExpressionContainer') walk(c.expression, { ...within, said: false });
        else walk(c, inner);
      }
      return;
    }
    const text = stringOf(node);
    if (text !== null) {
      if (isProse(text)) add(node, text);
      if (node.type === 'TemplateLiteral') for (const e of node.expressions) walk(e, within);
      else if (node.type === 'BinaryExpression')
        for (const e of [node.left, node.right]) if (stringOf(e) === null) walk(e, within);
      return;
    }
    for (const [key, value] of Object.entries(node)) {
      if (key === 'key' && node.type === 'Property') continue;
      if (value && typeof value === 'object') walk(value, within);
    }
  };
  const { program } = parseSync(path, source);
  walk(program.body, { said: false });
  return found;
}

/** Every text of the interface: `{ place: 'packages/web/src/shell/Shell.tsx:75', text: 'Your account', better: null }`. */
export function allTexts() {
  const all = [];
  for (const room of ROOMS)
    for (const path of [...files(join(root, room))].sort())
      for (const { line, text } of textsOf(path)) {
        const bare = text.replace(RIGHT, '');
        const fault = BETTER.find(([word]) => word.test(bare));
        all.push({ place: `${relative(root, path)}:${line}`, text, better: fault?.[1] ?? null });
      }
  return all;
}

if (process.argv[1] && import.meta.url === pathToFileURL(process.argv[1]).href) {
  const [given] = process.argv.slice(2);
  const texts = allTexts();
  const shown =
    given === '--check'
      ? texts.filter((t) => t.better)
      : texts.filter((t) => !given || t.text.toLowerCase().includes(given.toLowerCase()));
  for (const t of shown) console.log(`${t.place}\t${t.text}${t.better ? `\t→ ${t.better}` : ''}`);
  if (given === '--check') {
    console.log(`${texts.length} texts, ${shown.length} with a word that has a better one.`);
    if (shown.length > 0) process.exit(1);
  }
}
