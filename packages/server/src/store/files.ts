import { createHash, randomBytes } from 'node:crypto';
import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readFileSync, renameSync, writeSync } from 'node:fs';
import { join } from 'node:path';

/** Files by their content: PDFs, frozen figures, logos. The name is the SHA-256, so that writing twice is once. */
export interface Files {
  /** On disk before it returns: file, fsync, then the caller's row. */
  write(data: Uint8Array): string;
  /** @throws Error when there is no such file or it is not what its name says */
  read(hash: string): Buffer;
}

function sync(path: string): void {
  const handle = openSync(path, 'r');
  fsyncSync(handle);
  closeSync(handle);
}

export function openFiles(folder: string): Files {
  const root = join(folder, 'files');
  mkdirSync(root, { recursive: true });
  const pathOf = (hash: string) => join(root, hash.slice(0, 2), hash);
  return {
    write(data) {
      const hash = createHash('sha256').update(data).digest('hex');
      const path = pathOf(hash);
      if (existsSync(path)) return hash;
      const parent = join(root, hash.slice(0, 2));
      mkdirSync(parent, { recursive: true });
      const temporary = join(parent, `new-${randomBytes(8).toString('hex')}`);
      const handle = openSync(temporary, 'wx');
      writeSync(handle, data);
      fsyncSync(handle);
      closeSync(handle);
      renameSync(temporary, path);
      sync(parent);
      return hash;
    },
    read(hash) {
      if (!/^[0-9a-f]{64}$/.test(hash)) throw new Error('not a file name');
      const data = readFileSync(pathOf(hash));
      if (createHash('sha256').update(data).digest('hex') !== hash) throw new Error(`file ${hash} is damaged`);
      return data;
    },
  };
}
