import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from './setup.mjs';

/**
 * Worker threads and whole processes under test run from the build. Everything that tests write lies in one folder, which
 * is gone after them, whatever a killed server left; what is made for several of them is kept there once.
 */
export default function setup() {
  ensureBuild();
  const folder = mkdtempSync(join(tmpdir(), 'chronicon-tests-'));
  process.env.TMPDIR = folder;
  // Whoever names one keeps it, and has it again the next time.
  process.env.CHRONICON_TEST_SHELF ??= join(folder, 'shelf');
  return () => rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
}
