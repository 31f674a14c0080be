import { z } from 'zod';
import { TLS_POLICIES, type TlsPolicy } from '../platform/mailServer.ts';
import type { Secrets } from './secrets.ts';
import { deleteSetting, readSetting, writeSetting } from './settings.ts';
import { inTransaction, type Store } from './store.ts';
import { stored } from './stored.ts';

const BOX = 'mail.box';
const STATE = 'mail.box.state';

/** A mailbox to which mails come back, read by IMAP (RFC 9051). */
export interface BounceBox {
  host: string;
  port: number;
  tls: TlsPolicy;
  user: string;
  password: string;
  folder: string;
}

/** With its password sealed. */
export type KeptBounceBox = Omit<BounceBox, 'password'> & { secret: string };

/** How far a mailbox was read, and what keeps it from being read on. */
export interface BoxState {
  /** Numbers of its mails hold as long as this is the same (RFC 9051 §2.3.1.1); empty before it was ever read. */
  validity: string;
  /** The last mail that was looked at; 0 for none. */
  uid: number;
  readAt: string | null;
  trouble: { since: string; reason: string; mend: string } | null;
}

const UNREAD: BoxState = { validity: '', uid: 0, readAt: null, trouble: null };

const boxIn = stored<KeptBounceBox>(
  z.object({
    host: z.string(),
    port: z.number(),
    tls: z.enum(TLS_POLICIES),
    user: z.string(),
    secret: z.string(),
    folder: z.string(),
  }),
  'the mailbox of bounces',
);
const stateIn = stored<BoxState>(
  z.object({
    validity: z.string(),
    uid: z.number(),
    readAt: z.string().nullable(),
    trouble: z.object({ since: z.string(), reason: z.string(), mend: z.string() }).nullable(),
  }),
  'how far the mailbox of bounces was read',
);

/** The mailbox that an owner set; null where none is. */
export async function keptBounceBox(db: Store): Promise<KeptBounceBox | null> {
  const kept = await readSetting(db, BOX);
  return kept === null ? null : boxIn(kept);
}

/** @throws KeyError where the key that sealed its password is not there */
export const openBox = ({ secret, ...box }: KeptBounceBox, secrets: Secrets): BounceBox => ({
  ...box,
  password: secrets.open(secret),
});

/** Another mailbox is read from its beginning. */
export async function setBounceBox(tx: Store, { password, ...box }: BounceBox, secrets: Secrets): Promise<void> {
  const before = await keptBounceBox(tx);
  const same =
    before && ['host', 'port', 'user', 'folder'].every((key) => before[key as 'host'] === box[key as 'host']);
  await writeSetting(tx, BOX, JSON.stringify({ ...box, secret: secrets.seal(password) } satisfies KeptBounceBox));
  await setBoxState(tx, same ? { ...(await boxState(tx)), trouble: null } : UNREAD);
}

export async function removeBounceBox(tx: Store): Promise<void> {
  await deleteSetting(tx, BOX);
  await deleteSetting(tx, STATE);
}

export async function boxState(db: Store): Promise<BoxState> {
  const kept = await readSetting(db, STATE);
  return kept === null ? UNREAD : stateIn(kept);
}

const setBoxState = (db: Store, state: BoxState): Promise<void> => writeSetting(db, STATE, JSON.stringify(state));

/** Writes down how far a mailbox was read; false where it is not the one any more, of which nothing is written. */
export const noteBox = (db: Store, of: KeptBounceBox, state: BoxState): Promise<boolean> =>
  inTransaction(db, async (tx) => {
    const now = await keptBounceBox(tx);
    if (JSON.stringify(now) !== JSON.stringify(of)) return false;
    await setBoxState(tx, state);
    return true;
  });

/** What kept a mailbox from being read is no trouble any more once none is to be read. */
export async function forgetTrouble(db: Store): Promise<void> {
  const state = await boxState(db);
  if (state.trouble) await setBoxState(db, { ...state, trouble: null });
}
