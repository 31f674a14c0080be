import { createHash } from 'node:crypto';
import { type MailRules, mailRules as mailRulesSchema } from '@chronicon/core/contract';
import { z } from 'zod';
import type { DkimKey } from '../platform/mailServer.ts';
import { faultOf } from './faults.ts';
import type { Secrets } from './secrets.ts';
import { readSetting, writeSetting } from './settings.ts';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

const RULES = 'mail.rules';
const DKIM = 'mail.dkim';

const NO_RULES: MailRules = { bounces: '', perMinute: null, quiet: null };
const rulesIn = stored(mailRulesSchema, 'the rules for mails');

/** How the agency’s mails go out: where they come back, how many a minute, and when none go. */
export async function mailRules(db: Store): Promise<MailRules> {
  const kept = await readSetting(db, RULES);
  return kept === null ? NO_RULES : rulesIn(kept);
}

export const setMailRules = (db: Store, rules: MailRules): Promise<void> =>
  writeSetting(db, RULES, JSON.stringify(rules));

/** What mails are signed with, as it is kept: the private key is sealed. */
export interface KeptDkim {
  domain: string;
  selector: string;
  publicKey: string;
  secret: string;
}

const dkim = z.object({ domain: z.string(), selector: z.string(), publicKey: z.string(), secret: z.string() });
const dkimIn = stored<KeptDkim>(dkim, 'the key that mails are signed with');
const dkimsIn = stored<KeptDkim[]>(z.array(dkim), 'earlier keys that mails were signed with');

export async function keptDkim(db: Store): Promise<KeptDkim | null> {
  const kept = await readSetting(db, DKIM);
  return kept === null || kept === '' ? null : dkimIn(kept);
}

/** What tells a key from others, those of the same name in the domain included. */
export const dkimName = ({ domain, selector, publicKey }: KeptDkim): string =>
  `${selector}._domainkey.${domain} ${createHash('sha256').update(publicKey).digest('hex').slice(0, 16)}`;

/** Keys of before: what was signed with one and is tried again has the same bytes. */
const DKIM_BEFORE = 'mail.dkim.before';
const MOST_BEFORE = 10;

async function dkimBefore(db: Store): Promise<KeptDkim[]> {
  const kept = await readSetting(db, DKIM_BEFORE);
  return kept === null ? [] : dkimsIn(kept);
}

/** Has mails signed with another key from now on, or with none; call it inside a transaction. */
export async function setDkim(tx: Store, dkim: KeptDkim | null): Promise<void> {
  const now = await keptDkim(tx);
  if (now) {
    const before = [now, ...(await dkimBefore(tx))].slice(0, MOST_BEFORE);
    await writeSetting(tx, DKIM_BEFORE, JSON.stringify(before));
  }
  await writeSetting(tx, DKIM, dkim === null ? '' : JSON.stringify(dkim));
}

/**
 * What a mail is signed with.
 * @param name of the key that it was first signed with; null for none, undefined for the one of now
 * @returns null where nothing is signed; the key of now where the one of that name is no longer kept
 */
export async function dkimKey(
  db: Store,
  secrets: Pick<Secrets, 'open'>,
  name?: string | null,
): Promise<DkimKey | null> {
  if (name === null) return null;
  const now = await keptDkim(db);
  const known = name === undefined ? [] : [...(now ? [now] : []), ...(await dkimBefore(db))];
  const opened = ({ domain, selector, secret }: KeptDkim): DkimKey => ({
    domain,
    selector,
    privateKey: secrets.open(secret),
  });
  const before = known.find((k) => k !== now && dkimName(k) === name);
  if (before) {
    try {
      return opened(before);
    } catch (error) {
      if (faultOf(error)) throw error;
      // What was kept of it is damaged: another key took its place for that.
    }
  }
  return now && opened(now);
}
