import { createHash, randomBytes } from 'node:crypto';
import {
  closeSync,
  existsSync,
  fsyncSync,
  futimesSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import { mkdir, open, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** Files by their content: PDFs, frozen figures, logos. The name is the SHA-256, so that writing twice is once. */
export interface Files {
  /** On disk, whole, before it returns: file, fsync, then the caller's row. One that is damaged is written anew. */
  write(data: Uint8Array): string;
  /** The same for the thread that answers people: a disk that is slow keeps nobody else waiting. */
  keep(data: Uint8Array): Promise<string>;
  /** @throws Error when there is no such file or it is not what its name says */
  read(hash: string): Buffer;
  hashOf(data: Uint8Array): string;
  /** Another text whenever the file has been touched; null where there is none. */
  markOf(hash: string): string | null;
  /** When a file was last written, or asked to be, in milliseconds of the machine's clock; null where there is none. */
  writtenAt(hash: string): Promise<number | null>;
  remove(hash: string): Promise<void>;
  /** Writes and takes away a small file. @throws Error of the system when the folder cannot be written */
  probe(): Promise<void>;
}

/** Leftovers of a process that died while writing are swept when they are older than this, in milliseconds. */
const LEFTOVER = 24 * 60 * 60 * 1000;

/** What a look at the disk writes. */
const PROBE = 'probe-';

function sync(path: string): void {
  const handle = openSync(path, 'r');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

/** Writes to the last byte, and to the disk; a file that could not be written whole is taken away. */
function writeWhole(path: string, data: Uint8Array): void {
  const handle = openSync(path, 'wx', 0o600);
  try {
    // A call may write less than it was given.
    for (let at = 0; at < data.length; ) {
      const written = writeSync(handle, data, at, data.length - at);
      if (written === 0) throw Object.assign(new Error('the disk takes no more'), { code: 'ENOSPC' });
      at += written;
    }
    fsyncSync(handle);
  } catch (error) {
    closeSync(handle);
    rmSync(path, { force: true });
    throw error;
  }
  closeSync(handle);
}

/** Says of a file that it is wanted now: whoever sweeps what nothing points to leaves it alone. */
function touch(path: string): void {
  const handle = openSync(path, 'r+');
  try {
    const now = performance.timeOrigin + performance.now();
    futimesSync(handle, now / 1000, now / 1000);
  } finally {
    closeSync(handle);
  }
}

const hashOf = (data: Uint8Array): string => createHash('sha256').update(data).digest('hex');

/** @param now milliseconds of the machine's clock, for leftovers */
export function openFiles(folder: string, now: number): Files {
  const root = join(folder, 'files');
  mkdirSync(root, { recursive: true, mode: 0o700 });
  const pathOf = (hash: string) => join(root, hash.slice(0, 2), hash);
  /** What another one takes away at this moment is nobody's to sweep. */
  const isLeft = (path: string) => {
    const found = statSync(path, { throwIfNoEntry: false });
    return found !== undefined && now - found.mtimeMs > LEFTOVER;
  };
  for (const part of readdirSync(root, { withFileTypes: true })) {
    if (part.name.startsWith(PROBE) && isLeft(join(root, part.name))) rmSync(join(root, part.name), { force: true });
    if (!part.isDirectory()) continue;
    for (const name of readdirSync(join(root, part.name)).filter((n) => n.startsWith('new-'))) {
      const path = join(root, part.name, name);
      if (isLeft(path)) rmSync(path, { force: true });
    }
  }
  const isWhole = (hash: string): boolean => existsSync(pathOf(hash)) && hashOf(readFileSync(pathOf(hash))) === hash;
  return {
    hashOf,
    write(data) {
      const hash = hashOf(data);
      // What is there under the name is looked at before it is trusted.
      if (isWhole(hash)) {
        touch(pathOf(hash));
        return hash;
      }
      const parent = join(root, hash.slice(0, 2));
      mkdirSync(parent, { recursive: true, mode: 0o700 });
      const temporary = join(parent, `new-${randomBytes(8).toString('hex')}`);
      writeWhole(temporary, data);
      renameSync(temporary, pathOf(hash));
      sync(parent);
      return hash;
    },
    async keep(data) {
      const hash = hashOf(data);
      const path = pathOf(hash);
      const present = await readFile(path).catch(() => null);
      if (present && hashOf(present) === hash) {
        touch(path);
        return hash;
      }
      const parent = join(root, hash.slice(0, 2));
      await mkdir(parent, { recursive: true, mode: 0o700 });
      const temporary = join(parent, `new-${randomBytes(8).toString('hex')}`);
      try {
        await writeFile(temporary, data, { flag: 'wx', mode: 0o600, flush: true });
        await rename(temporary, path);
      } catch (error) {
        await rm(temporary, { force: true });
        throw error;
      }
      const handle = await open(parent, 'r');
      try {
        await handle.sync();
      } finally {
        await handle.close();
      }
      return hash;
    },
    read(hash) {
      if (!/^[0-9a-f]{64}$/.test(hash)) throw new Error('not a file name');
      const data = readFileSync(pathOf(hash));
      if (hashOf(data) !== hash) throw new Error(`file ${hash} is damaged`);
      return data;
    },
    markOf(hash) {
      const found = statSync(pathOf(hash), { throwIfNoEntry: false });
      return found ? `${found.ino} ${found.size} ${found.mtimeMs} ${found.ctimeMs}` : null;
    },
    writtenAt: (hash) =>
      stat(pathOf(hash)).then(
        (s) => s.mtimeMs,
        () => null,
      ),
    remove: (hash) => rm(pathOf(hash), { force: true }),
    async probe() {
      const path = join(root, `${PROBE}${randomBytes(8).toString('hex')}`);
      try {
        // A disk that is slow keeps nobody waiting.
        await writeFile(path, Buffer.alloc(4096, 1), { flag: 'wx', mode: 0o600, flush: true });
      } finally {
        await rm(path, { force: true });
      }
    },
  };
}
