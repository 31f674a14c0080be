/** How many requests a service grants in a day, how many were made, and when the count begins anew. */
export interface Quota {
  used: number;
  limit: number;
  /** Instant. */
  resets: string;
}

/** The part of a quota that is kept for editions and for people who ask; routine syncs leave it alone. */
const KEPT = 0.1;

/** Whether one more request may be made. */
export function mayAsk(quota: Quota | null, urgent: boolean): boolean {
  if (!quota) return true;
  return quota.used < (urgent ? quota.limit : Math.floor(quota.limit * (1 - KEPT)));
}
