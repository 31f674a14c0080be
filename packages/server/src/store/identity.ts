import { statSync } from 'node:fs';
import { join } from 'node:path';
import { readSetting, writeSetting } from './settings.ts';
import type { Store } from './store.ts';

const KEY = 'data.identity';

/** What tells this database file from a copy of it: a copied or restored file is another one. */
function identityNow(folder: string): string {
  const { dev, ino, birthtimeMs } = statSync(join(folder, 'chronicon.db'));
  return `${dev}:${ino}:${Math.round(birthtimeMs)}`;
}

/**
 * Whether the data folder is a copy: its database remembers another file than it lies in. One that is new remembers its
 * own. A snapshot that is put back in the place of the same file cannot be told.
 */
export async function isCopy(db: Store, folder: string): Promise<boolean> {
  const known = await readSetting(db, KEY);
  if (known === null) {
    await settleIdentity(db, folder);
    return false;
  }
  return known !== identityNow(folder);
}

/** From now on, this is the one. */
export const settleIdentity = (db: Store, folder: string): Promise<void> => writeSetting(db, KEY, identityNow(folder));
