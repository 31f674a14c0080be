import type { Logger } from 'pino';
import type { FactDb } from '../facts/factStore.ts';
import type { Imports } from '../feeds/files/imports.ts';
import type { Inbox } from '../feeds/files/inbox.ts';
import type { Services } from '../feeds/services.ts';
import type { Syncs } from '../feeds/sync.ts';
import type { Mailer } from '../mail/mailer.ts';
import type { Clock } from '../platform/clock.ts';
import type { Config } from '../platform/config.ts';
import type { CrashPoint } from '../platform/crashPoints.ts';
import type { Precedence } from '../platform/precedence.ts';
import type { Files } from '../store/files.ts';
import type { Instance } from '../store/instances.ts';
import type { Secrets } from '../store/secrets.ts';
import type { Store } from '../store/store.ts';
import type { Pictures } from '../workers/pictures.ts';
import type { Workers } from '../workers/workers.ts';
import type { Health } from './health.ts';

/** What the scheduler works with. */
export interface Tools {
  store: Store;
  facts: FactDb;
  config: Config;
  secrets: Secrets;
  files: Files;
  workers: Workers;
  pictures: Pictures;
  /** Hands reports over. */
  mailer: Mailer;
  /** Hands letters to members over. */
  notices: Mailer;
  services: Services;
  syncs: Syncs;
  imports: Imports;
  inbox: Inbox;
  health: Health;
  /** This running server, among others on the folder. */
  instance: Instance;
  clock: Clock;
  log: Logger;
  precedence: Precedence;
  crash(point: CrashPoint): void;
}
