import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

/** Where a run of tests keeps what several of its processes need; one of this process alone where none was named. */
function shelf(): string {
  const named = process.env.CHRONICON_TEST_SHELF;
  if (named) {
    mkdirSync(named, { recursive: true });
    return named;
  }
  const own = mkdtempSync(join(tmpdir(), 'chronicon-shelf-'));
  process.env.CHRONICON_TEST_SHELF = own;
  process.once('exit', () => rmSync(own, { recursive: true, force: true }));
  return own;
}

/**
 * A copy of a folder that is made once in a run of tests, whichever process needs it first; the others wait for it.
 * @param make fills the folder, and tells what has to be known of it: plain data
 */
export async function fromShelf<T>(
  name: string,
  make: (folder: string) => Promise<T>,
): Promise<{ folder: string; known: T }> {
  const place = join(shelf(), name);
  const told = join(place, 'known.json');
  const lock = `${place}.making`;
  while (!existsSync(told)) {
    try {
      mkdirSync(lock);
    } catch (error) {
      // Another process makes it.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      await sleep(50);
      continue;
    }
    try {
      if (!existsSync(told)) {
        mkdirSync(join(place, 'folder'), { recursive: true });
        const known = await make(join(place, 'folder'));
        writeFileSync(told, JSON.stringify(known));
      }
    } catch (error) {
      rmSync(place, { recursive: true, force: true });
      throw error;
    } finally {
      rmdirSync(lock);
    }
  }
  const folder = mkdtempSync(join(tmpdir(), 'chronicon-test-'));
  cpSync(join(place, 'folder'), folder, { recursive: true });
  return { folder, known: JSON.parse(readFileSync(told, 'utf8')) as T };
}
