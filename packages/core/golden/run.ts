import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { adapters, runCase, type VectorFile } from './adapters.ts';

/** Runs the vector files of a folder (by default, the ones beside this file) and prints what fails. */
const folder = process.argv[2] ?? import.meta.dirname;
let passed = 0;
let failed = 0;
for (const file of Object.keys(adapters)) {
  const path = join(folder, `${file}.json`);
  // Another folder need not have all of them.
  if (!existsSync(path)) continue;
  const vectors = JSON.parse(readFileSync(path, 'utf8')) as VectorFile;
  for (const c of vectors.cases) {
    const difference = runCase(file, c);
    if (difference === null) passed++;
    else {
      failed++;
      console.log(`${c.id}  ${difference}`);
    }
  }
}
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
