// Puts small faults into packages/core/src/figures, one at a time, and tells how many of them the tests find.
//   npm run mutate [-- COUNT [SEED]]
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join, relative } from 'node:path';
import { transformSync } from 'esbuild';
import { ensurePackages } from './setup.mjs';

const root = join(import.meta.dirname, '..');
const COUNT = Number(process.argv[2] ?? 200);
const SEED = Number(process.argv[3] ?? 1);
/** Of the faults, the tests have to find so many. */
const WANTED = 0.8;
/** Milliseconds after which a run that does not end counts as found: a loop without end. */
const LONGEST = 90_000;
/** The tests that are about odd days, which take longest, and those about all other figures. */
const ODD = /odd|usual|median|sortedWindow/i;
const ODD_TESTS = ['oddDays', 'oddAnswer', 'usual', 'sortedWindow'].map((name) => `src/figures/${name}.test.ts`);
const testsFor = (path) =>
  ODD.test(path)
    ? [...ODD_TESTS, 'src/words/figuresDoc.test.ts', 'src/page/oddNotes.test.ts']
    : ['src/figures', 'golden', 'src/words/figuresDoc.test.ts', '--exclude', 'src/figures/oddDays.test.ts'];

/** Small faults: what stands there, and what a tired hand might write instead. Types are told apart afterwards. */
const FAULTS = [
  [/ < /g, ' <= '],
  [/ <= /g, ' < '],
  [/ > /g, ' >= '],
  [/ >= /g, ' > '],
  [/ === /g, ' !== '],
  [/ !== /g, ' === '],
  [/ && /g, ' || '],
  [/ \|\| /g, ' && '],
  [/ \+ /g, ' - '],
  [/ - /g, ' + '],
  [/ \* /g, ' / '],
  [/ \/ /g, ' * '],
  [/ \+= /g, ' -= '],
  [/\+\+/g, '--'],
  [/\btrue\b/g, 'false'],
  [/\bfalse\b/g, 'true'],
  [/\bMath\.max\b/g, 'Math.min'],
  [/\bMath\.min\b/g, 'Math.max'],
  [/\.some\(/g, '.every('],
  [/\.every\(/g, '.some('],
  [/\.from\b(?!\()/g, '.to'],
  [/\bna\('[a-z-]+'\)/g, "na('coarser')"],
  // Not the digits after a point: a thousandth more or less is no fault that a test should see.
  [/(?<![.\w'])(\d+)(?![.\w'])/g, (_, n) => String(Number(n) + 1)],
  [/ \? /g, ' && false ? '],
];

const javaScript = (text) => transformSync(text, { loader: 'ts', logLevel: 'silent' }).code;

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else if (entry.name.endsWith('.ts') && !entry.name.endsWith('.test.ts')) yield path;
  }
}

/** Every fault that changes what runs: not those within types, comments and imports, or that do not compile. */
function faultsOf(path) {
  const text = readFileSync(path, 'utf8');
  const before = javaScript(text);
  const lines = text.split('\n');
  return lines.flatMap((line, at) => {
    if (/^\s*(\/\/|\*|\/\*|import |export \* |} from )/.test(line)) return [];
    // One step too many over typed columns reads nothing and writes nothing: no fault that could be seen.
    if (/^\s*for \(let /.test(line)) return [];
    const code = line.replace(/\s+\/\/.*$/, '');
    return FAULTS.flatMap(([pattern, instead]) =>
      [...code.matchAll(pattern)].flatMap((m) => {
        const piece = m[0].replace(new RegExp(pattern.source), instead);
        const mutated = code.slice(0, m.index) + piece + code.slice(m.index + m[0].length);
        const all = [...lines.slice(0, at), mutated, ...lines.slice(at + 1)].join('\n');
        try {
          if (javaScript(all) === before) return [];
        } catch {
          return [];
        }
        return [{ path, line: at + 1, was: line.trim(), is: mutated.trim(), text: all }];
      }),
    );
  });
}

/** Numbers that are the same for one seed (mulberry32). */
function randomOf(seed) {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

function chosen(all, count, seed) {
  const random = randomOf(seed);
  const left = [...all];
  const out = [];
  while (out.length < count && left.length > 0) {
    const i = Math.floor(random() * left.length);
    out.push(left[i]);
    // One fault a line is enough: what is on a line fails together.
    const { path, line } = left[i];
    for (let j = left.length - 1; j >= 0; j--) if (left[j].path === path && left[j].line === line) left.splice(j, 1);
  }
  return out;
}

const source = join(root, 'packages/core/src');

/** A copy of the core in which faults are put, beside the packages that it needs. */
function slotOf(n) {
  const folder = join(root, 'build/mutation', String(n));
  const core = join(folder, 'packages/core');
  mkdirSync(core, { recursive: true });
  cpSync(source, join(core, 'src'), { recursive: true });
  cpSync(join(root, 'docs/figures.md'), join(folder, 'docs/figures.md'));
  writeFileSync(join(core, 'package.json'), readFileSync(join(root, 'packages/core/package.json')));
  writeFileSync(
    join(core, 'vitest.config.mjs'),
    `export default { root: ${JSON.stringify(core)}, cacheDir: ${JSON.stringify(join(folder, 'cache'))}, test: { isolate: false, bail: 1, maxWorkers: 1, testTimeout: 60000 } };\n`,
  );
  return core;
}

/** Whether the tests fail with the core as it stands in the slot. */
function testsFail(core, path) {
  return new Promise((resolve) => {
    const run = spawn(
      process.execPath,
      [
        join(root, 'node_modules/vitest/vitest.mjs'),
        'run',
        '--config',
        join(core, 'vitest.config.mjs'),
        ...testsFor(path),
      ],
      // A group of its own: a worker in a loop without end has to be ended with it.
      { cwd: core, stdio: 'ignore', detached: true },
    );
    const watch = setTimeout(() => process.kill(-run.pid, 'SIGKILL'), LONGEST);
    run.once('exit', (code) => {
      clearTimeout(watch);
      resolve(code !== 0);
    });
  });
}

ensurePackages();
rmSync(join(root, 'build/mutation'), { recursive: true, force: true });
const all = [...filesIn(join(source, 'figures'))].flatMap(faultsOf);
const faults = chosen(all, COUNT, SEED);
console.log(`${all.length} faults are possible; ${faults.length} of them are tried (seed ${SEED})`);
const missed = [];
let done = 0;
let tried = 0;
const work = async (n) => {
  const core = slotOf(n);
  if (await testsFail(core, '')) throw new Error('The tests fail without any fault.');
  for (let fault = faults[done++]; fault; fault = faults[done++]) {
    const target = join(core, 'src', relative(source, fault.path));
    writeFileSync(target, fault.text);
    if (!(await testsFail(core, fault.path))) {
      missed.push(fault);
      console.log(
        `missed  ${relative(root, fault.path)}:${fault.line}\n        was ${fault.was}\n        is  ${fault.is}`,
      );
    }
    cpSync(fault.path, target);
    if (++tried % 20 === 0) console.log(`${tried} tried, ${missed.length} missed`);
  }
};
await Promise.all(Array.from({ length: availableParallelism() }, (_, i) => work(i)));
rmSync(join(root, 'build/mutation'), { recursive: true, force: true });
const found = faults.length - missed.length;
const share = found / faults.length;
console.log(`${found} of ${faults.length} found: ${(100 * share).toFixed(1)} %, wanted ${100 * WANTED} %`);
process.exitCode = share >= WANTED ? 0 : 1;
