import { existsSync, mkdtempSync, readdirSync, rmSync, statfsSync } from 'node:fs';
import { freemem, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from './setup.mjs';

/** Bytes of memory that have to be free for tests to write there: they write some hundred megabytes, and need as many. */
const ROOM = 6 * 2 ** 30;

/**
 * Where tests write: in memory where there is plenty, since half of the time would be waiting for a disk to have it. What a
 * killed process wrote is there all the same.
 */
function placeForTests() {
  const memory = '/dev/shm';
  if (process.env.TMPDIR || !existsSync(memory)) return tmpdir();
  const { bavail, bsize } = statfsSync(memory);
  return Math.min(bavail * bsize, freemem()) > ROOM ? memory : tmpdir();
}

const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};

/** What runs left that were killed: in memory, it would lie there until the machine starts anew. */
function clearAfterKilled(place) {
  for (const name of readdirSync(place)) {
    const pid = /^chronicon-t(\d+)-/.exec(name)?.[1];
    if (pid && !isAlive(Number(pid))) rmSync(join(place, name), { recursive: true, force: true });
  }
}

/**
 * Worker threads and whole processes under test run from the build. Everything that tests write lies in one folder, which
 * is gone after them, whatever a killed server left; what is made for several of them is kept there once.
 */
export default function setup() {
  // Each project of the tests asks for it.
  if (process.env.CHRONICON_TEST_FOLDER) return undefined;
  ensureBuild();
  // A short name: sockets of a browser lie there, and their paths have at most 108 bytes.
  const place = placeForTests();
  clearAfterKilled(place);
  const folder = mkdtempSync(join(place, `chronicon-t${process.pid}-`));
  process.env.CHRONICON_TEST_FOLDER = folder;
  process.env.TMPDIR = folder;
  // Whoever names one keeps it, and has it again the next time.
  process.env.CHRONICON_TEST_SHELF ??= join(folder, 'shelf');
  return () => rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
}
