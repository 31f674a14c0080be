import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Holds imports to the arrows of the house: between packages, within the core and the server, and among the web's places. */
const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** What a package may import of the others; `core/contract` joins web and server, and `core/bounds` is known to both. */
const PACKAGES = {
  core: [],
  simulators: [],
  server: ['core'],
  web: ['core'],
  demo: ['core', 'server'],
  bench: ['core', 'server', 'simulators', 'e2e'],
  e2e: ['core', 'server', 'simulators'],
};
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
/** Parts of the web, each with those that it may import. A file in `src` itself joins them. */
const WEB = {
  api: [],
  parts: ['api', 'shell'],
  shell: ['api', 'parts', 'places'],
  places: ['api', 'parts', 'shell'],
};
/** Places that take something from another one. What two of them need belongs to `parts`: this list only gets shorter. */
const PLACES = {
  almanac: ['schedule'],
  client: ['clients', 'connect', 'figures', 'files', 'schedule', 'typed'],
  first: ['settings'],
  me: ['people', 'settings'],
  sending: ['settings'],
  settings: ['client'],
  signIn: ['first', 'link'],
};
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
    what: 'a query',
    pattern: /\.(selectFrom|insertInto|updateTable|deleteFrom)\(/,
    in: /^packages\/server\/src\//,
    // Who may come in has tables of its own.
    but: /^packages\/server\/src\/(store|facts|access|test)\/|\.test\.ts$/,
  },
  {
    what: 'JSON that is taken for what it was to be',
    pattern: /JSON\.parse\(/,
    in: /^packages\/server\/src\//,
    // Each of these holds what it read against a schema of its own, or never changes again.
    but: /\/(store\/(stored|clients)|store\/rewrites\/\w+|feeds\/(http|conformance|files\/inbox|files\/jsonLines)|api\/checkReply|workers\/written)\.ts$|\/src\/test\/|\.test\.ts$/,
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

/** Where a file stands: its package, and its part of it. */
function placeOf(file) {
  const [first, second, ...rest] = file.split('/');
  if (first !== 'packages') return { own: first, part: rest[0] };
  return { own: second, part: rest[1], place: rest[1] === 'places' && rest.length > 3 ? rest[2] : null };
}

const faults = [];
/** What each file imports, by path; a package's own entry stands for its index. */
const imports = new Map();
const folders = ['packages', 'demo', 'bench', 'e2e'].map((folder) => join(root, folder));
for (const path of folders.flatMap((folder) => [...sources(folder)])) {
  const file = relative(root, path).replaceAll('\\', '/');
  const { own, part, place } = placeOf(file);
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
    if (own === 'web' && other?.[1] === 'core' && !/^(contract|bounds)\b/.test(other[2] ?? '')) {
      const typeOnly = new RegExp(`import type [^;]*from '${specifier}'`).test(text);
      if (!typeOnly) faults.push(`${file}: web takes nothing but types from ${specifier}`);
    }
    if (specifier.startsWith('.')) {
      const target = relative(root, resolve(dirname(path), specifier)).replaceAll('\\', '/');
      mine.push(target);
      const to = placeOf(target);
      if (to.own !== own && to.own !== 'scripts')
        faults.push(`${file}: takes ${target} by its path, not by its package`);
      if (own === 'web' && !isTest && WEB[part] && WEB[to.part] && to.part !== part && !WEB[part].includes(to.part))
        faults.push(`${file}: ${part} may not import ${to.part}`);
      if (own === 'web' && !isTest && place && to.place && to.place !== place && !PLACES[place]?.includes(to.place))
        faults.push(`${file}: the place ${place} may not import ${to.place}`);
    }
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
for (const circle of circles(new Map(Object.entries(PLACES))))
  faults.push(`a circle of places: ${circle.join(' -> ')}`);
if (faults.length > 0) {
  console.error(faults.join('\n'));
  process.exit(1);
}
console.log('  all imports follow the arrows');
