import type { CivilDate, Range } from '@chronicon/core/calendar';
import type { Fingerprint, Quota } from '@chronicon/core/feeds';
import type { PlainFilter } from '@chronicon/core/figures';
import type { DatasetSpec, FactRow } from '../facts/factStore.ts';
import type { NetworkRules } from '../platform/networkRules.ts';

export interface Catalogue {
  /** The last day that is complete at the service. */
  completeThrough: CivilDate;
  datasets: DatasetSpec[];
}

/** Why a service did not answer as it should, in words for the manager. */
export class FeedError extends Error {
  constructor(
    readonly kind:
      | 'refused'
      | 'unknown-account'
      | 'busy'
      | 'down'
      | 'slow'
      | 'broken'
      /** Its catalogue no longer has what it had. */
      | 'changed'
      /** The account is another than the one that was confirmed. */
      | 'swapped',
    message: string,
    /** Seconds after which the service wants to be asked again (Retry-After). */
    readonly retryAfter: number | null = null,
  ) {
    super(message);
  }
}

/** Where a conversation's access comes from. */
export interface Access {
  token(): Promise<string>;
  /** Another token after the service refused this one, or null when there is none to be had. */
  renew(refused: string): Promise<string | null>;
}

/** Counts requests against what the service grants. */
export interface Meter {
  /** Before each request. @throws FeedError `busy` when no more may be made now */
  before(): void;
  /** What the service says of its quota. */
  told(quota: Quota): void;
}

export interface ServiceSetup {
  address: string;
  access: Access;
  meter: Meter;
  network: NetworkRules;
  /** Milliseconds. */
  timeout: number;
  now(): number;
}

/** A conversation with one account of a service. Every call throws {@link FeedError} alone. */
export interface FeedSession {
  account(): Promise<Fingerprint>;
  catalogue(): Promise<Catalogue>;
  /** The rows of a range, both ends included. */
  rows(dataset: DatasetSpec, range: Range): Promise<FactRow[]>;
  /** One number for a whole range and filter, for measures that cannot be added up. `dataset` is its key. */
  total(dataset: string, measure: string, range: Range, filter: PlainFilter): Promise<number>;
}

/** A service that was opened with an access. */
export interface FeedService {
  /** Every account that the access can read. */
  accounts(): Promise<Fingerprint[]>;
  of(account: string): FeedSession;
}

/** One kind of service. One file a kind, registered in registry.ts. */
export interface FeedKind {
  kind: string;
  label: string;
  about: string;
  /** Days before the last complete one that are fetched again each time, because the service restates them. */
  restates: number;
  /** Feeds of this kind that are fetched side by side. */
  atOnce: number;
  open(setup: ServiceSetup): FeedService;
}
