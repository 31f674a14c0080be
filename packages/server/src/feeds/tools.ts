import type { Logger } from 'pino';
import type { FactDb } from '../facts/factStore.ts';
import type { Clock } from '../platform/clock.ts';
import type { Config } from '../platform/config.ts';
import type { CrashPoint } from '../platform/crashPoints.ts';
import type { Instance } from '../store/instances.ts';
import type { Secrets } from '../store/secrets.ts';
import type { Store } from '../store/store.ts';

/** What feeds are fetched with. */
export interface FeedTools {
  store: Store;
  facts: FactDb;
  secrets: Secrets;
  clock: Clock;
  config: Config;
  instance: Instance;
  log: Logger;
  crash(point: CrashPoint): void;
}
