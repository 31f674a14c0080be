import { readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { MESSY } from './cases.ts';

/** Writes the messy files anew: `npm run messy`. */
const folder = join(import.meta.dirname, 'files');
for (const name of readdirSync(folder)) rmSync(join(folder, name));
for (const { name, body } of MESSY) writeFileSync(join(folder, name), await body);
console.log(`${MESSY.length} files in ${folder}`);
