import type { CivilDate, Range } from '@chronicon/core/calendar';
import type { Filter } from '@chronicon/core/figures';
import type { DatasetSpec, FactRow } from '../facts/factStore.ts';

/** What a service says of an account. */
export interface Account {
  id: string;
  name: string;
  site: string;
  zone: string;
  currency: string;
}

export interface Catalogue {
  /** The last day that is complete at the service. */
  completeThrough: CivilDate;
  datasets: DatasetSpec[];
}

/** Why a service did not answer as it should, in words for the manager. */
export class FeedError extends Error {
  constructor(
    readonly kind: 'refused' | 'unknown-account' | 'busy' | 'down' | 'slow' | 'broken',
    message: string,
    /** Seconds after which the service wants to be asked again (Retry-After). */
    readonly retryAfter: number | null = null,
  ) {
    super(message);
  }
}

/** A conversation with one account of a service. Every call throws {@link FeedError} alone. */
export interface FeedSession {
  account(): Promise<Account>;
  catalogue(): Promise<Catalogue>;
  /** The rows of a range, both ends included. */
  rows(dataset: DatasetSpec, range: Range): Promise<FactRow[]>;
  /** One number for a whole range and filter, for measures that cannot be added up. `dataset` is its key. */
  total(dataset: string, measure: string, range: Range, filter: Filter): Promise<number>;
}

/** One kind of service. One file a kind, registered in registry.ts. */
export interface FeedKind {
  kind: string;
  label: string;
  about: string;
  /** Days before the last complete one that are fetched again each time, because the service restates them. */
  restates: number;
  open(setup: { address: string; account: string; token: string; timeout: number }): FeedSession;
}
