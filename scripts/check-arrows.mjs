import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Holds imports to the arrows of the house: between packages, within the core, and to single places. */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** What a package may import of the others; `core/contract` alone joins web and server. */
const PACKAGES = { core: [], standins: [], server: ['core'], web: ['core'] };
/** Parts of the core, each with those that it may import. */
const CORE = {
  bounds: [],
  calendar: ['bounds'],
  figures: ['bounds', 'calendar'],
  words: ['bounds', 'calendar', 'figures'],
  report: ['bounds', 'calendar', 'figures', 'words'],
  page: ['bounds', 'calendar', 'figures', 'words', 'report'],
  edition: ['bounds', 'calendar'],
  feeds: ['bounds', 'calendar', 'figures'],
  contract: ['bounds', 'calendar', 'figures', 'words', 'report', 'page', 'edition', 'feeds'],
  golden: ['bounds', 'calendar', 'figures', 'words', 'report', 'page', 'edition'],
};
/** Words that may stand in some places alone. */
const KEPT = [
  {
    what: 'the clock',
    pattern: /\bDate\.now\(|new Date\(\)/,
    in: /^packages\/(core|server)\/src/,
    but: /^packages\/server\/src\/(clock|feeds\/tryService)\.ts$|\.test\.ts$/,
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
    but: /\.test\.tsx?$|^packages\/core\/src\/golden\//,
  },
];

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory() && entry.name !== 'node_modules') yield* sources(path);
    else if (/\.tsx?$/.test(entry.name)) yield path;
  }
}

const faults = [];
for (const path of sources(join(root, 'packages'))) {
  const file = relative(root, path).replaceAll('\\', '/');
  const [, own, , part] = file.split('/');
  const text = readFileSync(path, 'utf8');
  const isTest = /\.test\.tsx?$|\/src\/test\//.test(file);
  for (const [, specifier] of text.matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)) {
    const other = /^@chronicon\/([a-z]+)(?:\/(.+))?$/.exec(specifier);
    if (
      other &&
      other[1] !== own &&
      !PACKAGES[own].includes(other[1]) &&
      !(isTest && own === 'server' && other[1] === 'standins')
    ) {
      faults.push(`${file}: ${own} may not import ${other[1]}`);
    }
    if (own === 'web' && other?.[1] === 'core' && !other[2]?.startsWith('contract')) {
      const typeOnly = new RegExp(`import type [^;]*from '${specifier}'`).test(text);
      if (!typeOnly) faults.push(`${file}: web takes nothing but types from ${specifier}`);
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
if (faults.length > 0) {
  console.error(faults.join('\n'));
  process.exit(1);
}
console.log('  all imports follow the arrows');
