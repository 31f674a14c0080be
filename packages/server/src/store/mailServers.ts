import { z } from 'zod';
import { type MailServer, TLS_POLICIES } from '../platform/mailServer.ts';
import type { Secrets } from './secrets.ts';
import { deleteSetting, readSetting, writeSetting } from './settings.ts';
import type { Store } from './store.ts';
import { stored } from './stored.ts';

/** The one that hands reports over, and a second one that tells when the first is what is wrong. */
export type MailServerUse = 'main' | 'notices';

/** With its password sealed; empty where it asks for none. */
export type KeptMailServer = Omit<MailServer, 'password'> & { secret: string };

const serverIn = stored<KeptMailServer>(
  z.object({ host: z.string(), port: z.number(), tls: z.enum(TLS_POLICIES), user: z.string(), secret: z.string() }),
  'a mail server',
);

const keyOf = (use: MailServerUse): string => `mail.${use}`;

/** The mail server that an owner set; null where none is set. */
export async function mailServerOf(db: Store, use: MailServerUse): Promise<KeptMailServer | null> {
  const kept = await readSetting(db, keyOf(use));
  return kept === null ? null : serverIn(kept);
}

export async function setMailServer(
  db: Store,
  use: MailServerUse,
  server: MailServer,
  secrets: Secrets,
): Promise<void> {
  const { password, ...rest } = server;
  const kept: KeptMailServer = { ...rest, secret: password === '' ? '' : secrets.seal(password) };
  await writeSetting(db, keyOf(use), JSON.stringify(kept));
}

export const removeMailServer = (db: Store, use: MailServerUse): Promise<void> => deleteSetting(db, keyOf(use));
