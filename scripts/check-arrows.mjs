import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Holds imports to the arrows of the house: between packages, within the core, and to single places. */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** What a package may import of the others; `core/contract` alone joins web and server. */
const PACKAGES = { core: [], simulators: [], server: ['core'], web: ['core'] };
/** Parts of the core, each with those that it may import. */
const CORE = {
  bounds: [],
  typeset: [],
  calendar: ['bounds'],
  figures: ['bounds', 'calendar'],
  words: ['bounds', 'calendar', 'figures'],
  report: ['bounds', 'calendar', 'figures', 'words', 'typeset'],
  client: ['bounds', 'calendar', 'words', 'report'],
  page: ['bounds', 'calendar', 'figures', 'words', 'typeset', 'report'],
  mail: ['bounds', 'calendar', 'figures', 'words', 'report', 'page'],
  edition: ['bounds', 'calendar'],
  feeds: ['bounds', 'calendar', 'figures'],
  contract: ['bounds', 'calendar', 'figures', 'words', 'report', 'client', 'page', 'edition', 'feeds'],
};
/** Floors of the server: each uses those before it alone. */
const FLOORS = ['platform', 'store', 'mail', 'facts', 'feeds', 'figures', 'render', 'workers', 'scheduler', 'api'];
const SERVER = {
  ...Object.fromEntries(FLOORS.map((floor, i) => [floor, FLOORS.slice(0, i)])),
  access: ['platform', 'store'],
};
SERVER.api.push('access');
/** Words that may stand in some places alone. */
const KEPT = [
  {
    what: 'the clock',
    pattern: /\bDate\.now\(|new Date\(\)/,
    in: /^packages\/(core|server)\/src/,
    but: /^packages\/server\/src\/(platform\/clock|feeds\/tryService)\.ts$|\.test\.ts$/,
  },
  { what: 'chance', pattern: /Math\.random|randomUUID|randomBytes/, in: /^packages\/core\/src/, but: /\.test\.ts$/ },
  {
    what: 'fact tables',
    pattern: /(From|Into|Table)\('(chunk|dim_value|coverage|dataset)'/,
    in: /^packages\/server\/src/,
    but: /^packages\/server\/src\/facts\/|\.test\.ts$/,
  },
  {
    what: 'node modules',
    pattern: /from 'node:/,
    in: /^packages\/(core|web)\/src/,
    but: /\.test\.tsx?$/,
  },
];

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory() && entry.name !== 'node_modules') yield* sources(path);
    else if (/\.tsx?$/.test(entry.name)) yield path;
  }
}

/** Circles among files, each named once by the files on it. */
function circles(imports) {
  const found = [];
  const done = new Set();
  const walk = (file, way) => {
    const at = way.indexOf(file);
    if (at >= 0) found.push(way.slice(at));
    if (at >= 0 || done.has(file)) return;
    for (const next of imports.get(file) ?? []) walk(next, [...way, file]);
    done.add(file);
  };
  for (const file of imports.keys()) walk(file, []);
  return found;
}

const faults = [];
/** What each file imports, by path; a package's own entry stands for its index. */
const imports = new Map();
for (const path of sources(join(root, 'packages'))) {
  const file = relative(root, path).replaceAll('\\', '/');
  const [, own, , part] = file.split('/');
  const text = readFileSync(path, 'utf8');
  // Tests, and what runs the vectors, may reach for anything.
  const isTest = /\.test\.tsx?$|\/src\/test\/|^packages\/core\/golden\//.test(file);
  const mine = [];
  if (!isTest) imports.set(file, mine);
  for (const [, specifier] of text.matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)) {
    const other = /^@chronicon\/([a-z]+)(?:\/(.+))?$/.exec(specifier);
    if (
      other &&
      other[1] !== own &&
      !PACKAGES[own].includes(other[1]) &&
      !(isTest && own === 'server' && other[1] === 'simulators')
    ) {
      faults.push(`${file}: ${own} may not import ${other[1]}`);
    }
    if (own === 'web' && other?.[1] === 'core' && !other[2]?.startsWith('contract')) {
      const typeOnly = new RegExp(`import type [^;]*from '${specifier}'`).test(text);
      if (!typeOnly) faults.push(`${file}: web takes nothing but types from ${specifier}`);
    }
    if (specifier.startsWith('.')) mine.push(relative(root, resolve(dirname(path), specifier)).replaceAll('\\', '/'));
    if (own === 'server' && specifier.startsWith('.') && !isTest && SERVER[part]) {
      const target = relative(join(root, 'packages/server/src'), resolve(dirname(path), specifier)).split('/')[0];
      if (target !== part && !SERVER[part].includes(target)) faults.push(`${file}: ${part} may not import ${target}`);
    }
    if (own === 'core' && specifier.startsWith('.')) {
      const target = relative(join(root, 'packages/core/src'), resolve(dirname(path), specifier)).split('/')[0];
      if (target !== part && !CORE[part]?.includes(target) && !isTest)
        faults.push(`${file}: ${part} may not import ${target}`);
    }
  }
  for (const kept of KEPT) {
    if (kept.in.test(file) && !kept.but.test(file) && kept.pattern.test(text))
      faults.push(`${file}: ${kept.what} has no place here`);
  }
}
for (const circle of circles(imports)) faults.push(`a circle of imports: ${circle.join(' -> ')}`);
if (faults.length > 0) {
  console.error(faults.join('\n'));
  process.exit(1);
}
console.log('  all imports follow the arrows');
