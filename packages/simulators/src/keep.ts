import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** What the simulators remember from one start to the next, each part under its own name. */
export interface Keep {
  /** What was kept under a name; null when nothing was. */
  read<T>(name: string): T | null;
  write(name: string, value: unknown): void;
}

/** Keeps everything in one file of a folder, as it changes. */
export function keepIn(folder: string): Keep {
  const path = join(folder, 'simulators.kept');
  const kept: Record<string, unknown> = existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : {};
  return {
    read: <T>(name: string) => (Object.hasOwn(kept, name) ? (kept[name] as T) : null),
    write(name, value) {
      kept[name] = value;
      // Whole, or not at all: a process that is ended in between leaves what was there.
      writeFileSync(`${path}.new`, JSON.stringify(kept));
      renameSync(`${path}.new`, path);
    },
  };
}
