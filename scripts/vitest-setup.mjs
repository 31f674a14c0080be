import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from './setup.mjs';

/** Worker threads and whole processes under test run from the build; what is made for several of them is kept once. */
export default function setup() {
  ensureBuild();
  // Whoever names one keeps it, and has it again the next time.
  if (process.env.CHRONICON_TEST_SHELF) return undefined;
  const shelf = mkdtempSync(join(tmpdir(), 'chronicon-shelf-'));
  process.env.CHRONICON_TEST_SHELF = shelf;
  return () => rmSync(shelf, { recursive: true, force: true });
}
