import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { MailRules } from '@chronicon/core/contract';
import type { DkimKey } from '../platform/mailServer.ts';
import type { Secrets } from './secrets.ts';
import { readSetting, writeSetting } from './settings.ts';
import type { Store } from './store.ts';

const RULES = 'mail.rules';
const TOKEN_KEY = 'mail.tokens';
const DKIM = 'mail.dkim';

const NO_RULES: MailRules = { bounces: '', perMinute: null, quiet: null };

/** How the agency’s mails go out: where they come back, how many a minute, and when none go. */
export async function mailRules(db: Store): Promise<MailRules> {
  const kept = await readSetting(db, RULES);
  return kept === null ? NO_RULES : { ...NO_RULES, ...(JSON.parse(kept) as Partial<MailRules>) };
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

export async function keptDkim(db: Store): Promise<KeptDkim | null> {
  const kept = await readSetting(db, DKIM);
  return kept === null || kept === '' ? null : (JSON.parse(kept) as KeptDkim);
}

export const setDkim = (db: Store, dkim: KeptDkim | null): Promise<void> =>
  writeSetting(db, DKIM, dkim === null ? '' : JSON.stringify(dkim));

/** What mails are signed with; null where no key was made. */
export async function dkimKey(db: Store, secrets: Secrets): Promise<DkimKey | null> {
  const kept = await keptDkim(db);
  return kept && { domain: kept.domain, selector: kept.selector, privateKey: secrets.open(kept.secret) };
}

/** What tokens in addresses and links are made with: one for each agency, made when it is first asked for. */
export async function tokenKey(db: Store): Promise<string> {
  const known = await readSetting(db, TOKEN_KEY);
  if (known !== null) return known;
  await db
    .insertInto('setting')
    .values({ key: TOKEN_KEY, value: randomBytes(32).toString('base64url') })
    .onConflict((c) => c.column('key').doNothing())
    .execute();
  return (await readSetting(db, TOKEN_KEY))!;
}

/** Hexadecimal digits of a token that nobody makes who does not know the key: 64 bits. */
const SIGNED = 16;

/** Tokens of one kind of row: its id without the prefix, and a sign that only the key makes. */
function tokensOf(what: 'delivery' | 'message', prefix: string) {
  const signOf = (key: string, id: string): string =>
    createHmac('sha256', key).update(`${what} ${id}`).digest('hex').slice(0, SIGNED);
  return {
    make: (key: string, id: string): string => `${id.slice(prefix.length)}-${signOf(key, id)}`,
    read(key: string, token: string): string | null {
      const found = /^([a-z0-9]{20})-([0-9a-f]{16})$/.exec(token.trim().toLowerCase());
      if (!found) return null;
      const id = `${prefix}${found[1]}`;
      return timingSafeEqual(Buffer.from(found[2]!), Buffer.from(signOf(key, id))) ? id : null;
    },
  };
}

/** What stands for a delivery in the address to which it comes back, and in the link by which its reader wants no more. */
export const { make: tokenOfDelivery, read: deliveryOfToken } = tokensOf('delivery', 'de_');

/** What stands for a mail to many in the link by which any of its readers wants no more: the same for all of them. */
export const { make: tokenOfMessage, read: messageOfToken } = tokensOf('message', 'ms_');
