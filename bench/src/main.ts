import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { benchEdition } from './edition.ts';
import { benchBundle, benchServer } from './server.ts';

const folder = mkdtempSync(join(tmpdir(), 'chronicon-bench-'));
try {
  await benchEdition(join(folder));
  await benchServer(mkdtempSync(join(tmpdir(), 'chronicon-bench-server-')));
  benchBundle();
} finally {
  rmSync(folder, { recursive: true, force: true });
}
