import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import { agencyOf } from '../store/members.ts';
import { deleteSetting, readSetting, writeSetting } from '../store/settings.ts';
import type { Store } from '../store/store.ts';
import { stored } from '../store/stored.ts';

/** Milliseconds for which the first start is open after the server starts. */
const OPEN = 60 * 60_000;
const KEY = 'first.start';

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('base64url');

/**
 * Opens the one way into a Chronicon that has no agency yet, and shuts the one that was opened before.
 * @param machine the machine's own time in milliseconds: an hour is an hour
 * @returns the secret that opens it (128 bits; its hash alone is kept), null where there is an agency
 */
export async function openFirstStart(store: Store, machine: number): Promise<string | null> {
  if (await agencyOf(store)) return null;
  const secret = randomBytes(16).toString('base64url');
  await writeSetting(store, KEY, JSON.stringify({ hash: hashOf(secret), until: machine + OPEN }));
  return secret;
}

const openingIn = stored(z.object({ hash: z.string(), until: z.number() }), 'the first start');

/** Whether a secret opens the first start now. Within a transaction that makes the agency, nobody comes in twice. */
export async function opensFirstStart(store: Store, secret: string, machine: number): Promise<boolean> {
  const kept = await readSetting(store, KEY);
  if (kept === null || (await agencyOf(store))) return false;
  const { hash, until } = openingIn(kept);
  const right = timingSafeEqual(Buffer.from(hashOf(secret)), Buffer.from(hash));
  return right && machine < until;
}

export const endFirstStart = (store: Store): Promise<void> => deleteSetting(store, KEY);
