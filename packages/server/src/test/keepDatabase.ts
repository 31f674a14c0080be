import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { STEP_NAMES } from '../store/migrations.ts';
import { openStore } from '../store/store.ts';
import { dumpDatabase } from './dumpDatabase.ts';

/** Keeps a database as the newest step leaves it, made from the one that was kept last: run once for each new step. */
const kept = join(import.meta.dirname, '../store/kept');
const name = `${STEP_NAMES.at(-1)!}.sql`;
const before = readdirSync(kept)
  .filter((f) => f < name)
  .sort()
  .at(-1);
if (!before) throw new Error('no database was ever kept');
const folder = mkdtempSync(join(tmpdir(), 'chronicon-kept-'));
const path = join(folder, 'chronicon.db');
const database = new Database(path);
database.exec(readFileSync(join(kept, before), 'utf8'));
database.close();
await (await openStore(folder)).destroy();
writeFileSync(join(kept, name), dumpDatabase(path));
rmSync(folder, { recursive: true, force: true });
console.log(`${name} is made from ${before}: add rows for what the step brings`);
