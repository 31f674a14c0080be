import type { FeedLack } from './feedParts.ts';

/** Why a figure is not available (SEMANTICS §4). */
export type Reason =
  | 'no-data'
  | 'before-start'
  | 'not-covered'
  | 'zero-denominator'
  | 'not-additive'
  | 'filtered-out-of-feed'
  /** Known only for whole weeks or months, and the range cuts one. */
  | 'coarser'
  /** Every day of the range is excluded (§6). */
  | 'excluded'
  /** Of a pace: less than a fifth of the range's weight has passed (§8). */
  | 'too-early'
  /** Of a change: a figure that it would be made from is not known for all of its days. */
  | 'partial';

export interface NotAvailable {
  na: Reason;
}

/** A known figure. `share` is covered days over days of the range, present only when `partial`. */
export interface Known {
  value: number;
  partial?: true;
  share?: number;
  /** The feeds that it is without, in some of its days. */
  feeds?: FeedLack[];
}

export type Value = Known | NotAvailable;

/** A value that is not made from all of its days; `share` of them, where it can be told, and without which feeds. */
export const asPartial = (v: Value, { share, feeds }: { share?: number; feeds?: FeedLack[] } = {}): Value =>
  isKnown(v) ? { ...v, partial: true, ...(share !== undefined && { share }), ...(feeds && { feeds }) } : v;

export const isKnown = (v: Value): v is Known => 'value' in v;
export const na = (reason: Reason): NotAvailable => ({ na: reason });

/** A finite number as a value; anything else is `no-data`, so that NaN and Infinity never leave the core. */
export const known = (value: number): Value => (Number.isFinite(value) ? { value } : na('no-data'));
