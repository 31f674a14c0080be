/** The life of an edition (VOCABULARY: edition states). */
export type EditionState =
  | 'planned'
  | 'gathering'
  | 'proof'
  | 'cleared'
  | 'sending'
  | 'sent'
  | 'part-sent'
  | 'held'
  | 'skipped'
  | 'superseded';

export type DeliveryState = 'queued' | 'sending' | 'accepted' | 'deferred' | 'refused' | 'bounced';

const EDITION: Record<EditionState, readonly EditionState[]> = {
  planned: ['gathering', 'skipped', 'held'],
  gathering: ['proof', 'cleared', 'held', 'skipped'],
  proof: ['cleared', 'held', 'skipped'],
  cleared: ['sending', 'held', 'skipped'],
  sending: ['sent', 'part-sent', 'held'],
  // A hold ends where a person says: look for data again, send what is drawn, or give up.
  held: ['gathering', 'cleared', 'sending', 'skipped'],
  sent: ['superseded'],
  'part-sent': ['sending', 'superseded'],
  skipped: [],
  superseded: [],
};

const DELIVERY: Record<DeliveryState, readonly DeliveryState[]> = {
  queued: ['sending'],
  // Back to itself: a process died in the middle, and the next one sends again under the same Message-ID.
  sending: ['sending', 'accepted', 'deferred', 'refused'],
  deferred: ['sending', 'refused'],
  accepted: ['bounced'],
  refused: ['queued'],
  bounced: [],
};

export const mayFollow = (from: EditionState, to: EditionState): boolean => EDITION[from].includes(to);
export const deliveryMayFollow = (from: DeliveryState, to: DeliveryState): boolean => DELIVERY[from].includes(to);

/** What an edition has become once none of its deliveries is under way; null while one is. */
export function outcomeOf(deliveries: readonly DeliveryState[]): 'sent' | 'part-sent' | 'held' | null {
  if (deliveries.some((d) => d === 'queued' || d === 'sending' || d === 'deferred')) return null;
  const accepted = deliveries.filter((d) => d === 'accepted' || d === 'bounced').length;
  return accepted === deliveries.length ? 'sent' : accepted > 0 ? 'part-sent' : 'held';
}
