import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import express from 'express';
import { adminPages } from './admin.ts';
import { createClock, type SimulatorClock } from './clock.ts';
import { keepIn } from './keep.ts';
import { type MailStore, openMailStore } from './mailbox/mailStore.ts';
import { mailboxPages } from './mailbox/pages.ts';
import { type SmtpSimulator, startSmtp } from './mailbox/smtp.ts';
import { authorisation } from './services/authorisation.ts';
import { createFaults, type Faults } from './services/faults.ts';
import { createGrants, type Grants, nextToken } from './services/grants.ts';
import { postPictures } from './services/postPictures.ts';
import { SERVICES } from './services/registry.ts';
import { createRequests, type Requests } from './services/requests.ts';
import { feedService } from './services/service.ts';

export { IMAP_ACCOUNT, type ImapSimulator, startImap } from './mailbox/imap.ts';
export type { StoredMail } from './mailbox/mailStore.ts';
export { reportOn, sendBack } from './mailbox/sendBack.ts';
export { type MailFault, SMTP_ACCOUNT } from './mailbox/smtp.ts';
export { AGENCY_REGISTRATION } from './services/authorisation.ts';
export { FAULTS, type Fault } from './services/faults.ts';
export { SERVICES } from './services/registry.ts';
export type { ServiceAccount, ServiceKind } from './services/serviceKind.ts';

export interface SimulatorOptions {
  /** 0 takes any free port. */
  port?: number;
  smtpPort: number;
  /** Folder for the mails; one that is gone when they are closed, when left out. */
  data?: string;
  seed?: string;
  token?: string;
  /** Days back that feed services know of; all of their history when left out. */
  history?: number;
  /** Milliseconds by which the clock is ahead of the machine's. */
  offset?: number;
}

export interface Simulators {
  url: string;
  faults: Faults;
  grants: Grants;
  requests: Requests;
  smtp: SmtpSimulator;
  mails: MailStore;
  clock: SimulatorClock;
  close(): Promise<void>;
}

export const DEMO_TOKEN = 'wa-token-fernglass';
export const DEMO_SEED = 'fernglass';

/** Starts the simulated services: what feeds ask, the mail server with its mailbox, the page that sets them wrong. */
export async function startSimulators(options: SimulatorOptions): Promise<Simulators> {
  const clock = createClock(options.offset);
  const data = options.data ?? mkdtempSync(join(tmpdir(), 'chronicon-mails-'));
  const keep = keepIn(data);
  const faults = createFaults(clock, keep);
  const mails = openMailStore(data);
  const smtp = await startSmtp(options.smtpPort, mails, clock);
  for (const address of keep.read<string[]>('mail.refused') ?? []) smtp.refused.add(address);
  const app = express();
  app.disable('x-powered-by');
  app.get('/', (_req, res) => res.redirect('/mailbox'));
  const { seed = DEMO_SEED, token = DEMO_TOKEN } = options;
  const grants = createGrants(clock, token, keep);
  const requests = createRequests(clock);
  for (const kind of SERVICES) {
    const path = `/services/${kind.kind}/v1`;
    app.use(
      path,
      authorisation(kind, grants),
      feedService({ kind, clock, faults, grants, requests, seed, history: options.history }),
    );
  }
  app.use(postPictures(faults));
  app.use(mailboxPages(mails));
  app.use(adminPages({ faults, grants, requests, smtp, clock, keep, nextToken: nextToken(token) }));
  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.listen(options.port ?? 0, '127.0.0.1', () => resolve(s));
    s.on('error', reject);
    // Longer than any client keeps a connection: none is shut in the moment in which it is used again.
    s.keepAliveTimeout = 65_000;
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    faults,
    grants,
    requests,
    smtp,
    mails,
    clock,
    async close() {
      server.closeAllConnections();
      await Promise.all([smtp.close(), new Promise((r) => server.close(r))]);
      if (options.data === undefined) rmSync(data, { recursive: true, force: true });
    },
  };
}
