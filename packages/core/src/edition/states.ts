/** The life of an edition (VOCABULARY: edition states). */
export type EditionState =
  | 'planned'
  | 'collecting'
  | 'review'
  | 'ready'
  | 'sending'
  | 'sent'
  | 'part-sent'
  | 'held'
  | 'skipped'
  | 'replaced';

export type DeliveryState =
  | 'queued'
  | 'sending'
  | 'accepted'
  | 'deferred'
  | 'uncertain'
  | 'refused'
  | 'withdrawn'
  | 'bounced';

const EDITION: Record<EditionState, readonly EditionState[]> = {
  planned: ['collecting', 'skipped', 'held'],
  collecting: ['review', 'ready', 'held', 'skipped'],
  // What is drawn goes back when something that it is made of changes: an edition follows (SEMANTICS §10).
  review: ['collecting', 'ready', 'held', 'skipped'],
  ready: ['collecting', 'sending', 'held', 'skipped'],
  sending: ['sent', 'part-sent', 'held', 'skipped'],
  // A hold ends where a person says: look for data again, send what is drawn, or give up.
  held: ['collecting', 'review', 'ready', 'sending', 'skipped'],
  // Somebody asks for it once more, or for another reader.
  // Or a mail comes back that was taken.
  sent: ['sending', 'part-sent', 'replaced'],
  'part-sent': ['sending', 'replaced'],
  // Left out by mistake, or missed: a person may take it up again.
  skipped: ['planned', 'collecting', 'held'],
  replaced: [],
};

const DELIVERY: Record<DeliveryState, readonly DeliveryState[]> = {
  // Refused at once where the guard does not let it through.
  queued: ['sending', 'refused', 'withdrawn'],
  // Back to itself: a process died in the middle, and the next one sends again under the same Message-ID. Back to
  // queued: the mail server took nothing from anybody, or the server was stopped before the mail was handed over.
  sending: ['sending', 'queued', 'accepted', 'deferred', 'uncertain', 'refused', 'withdrawn'],
  deferred: ['sending', 'refused', 'withdrawn'],
  // The line broke after the last dot (RFC 5321 §4.2.5): nobody knows whether it was taken.
  // Or it comes back: it had been taken.
  uncertain: ['sending', 'queued', 'accepted', 'withdrawn', 'bounced'],
  accepted: ['bounced'],

  refused: ['queued'],
  withdrawn: [],
  // Once its address is corrected.
  bounced: ['queued'],
};

export const mayFollow = (from: EditionState, to: EditionState): boolean => EDITION[from].includes(to);
export const deliveryMayFollow = (from: DeliveryState, to: DeliveryState): boolean => DELIVERY[from].includes(to);

/** States in which an edition is not on its way yet, so that it follows what it is made of. */
export const FOLLOWING: readonly EditionState[] = ['planned', 'collecting', 'review', 'ready', 'held'];

/** A delivery as far as an edition's outcome hangs on it; `nextTry` is null when nothing more is tried. */
export interface DeliveryEnd {
  state: DeliveryState;
  nextTry: string | null;
}

/** True while something is still to be tried for a delivery. */
export const isUnderWay = ({ state, nextTry }: DeliveryEnd): boolean =>
  state === 'queued' || state === 'sending' || state === 'deferred' || (state === 'uncertain' && nextTry !== null);

/**
 * What an edition has become once none of its deliveries is under way; null while one is. Withdrawn ones do not count:
 * nobody was to get them any more. Where all were withdrawn, the edition was left out.
 */
export function outcomeOf(deliveries: readonly DeliveryEnd[]): 'sent' | 'part-sent' | 'held' | 'skipped' | null {
  if (deliveries.some(isUnderWay)) return null;
  const wanted = deliveries.filter((d) => d.state !== 'withdrawn');
  if (wanted.length === 0) return 'skipped';
  const accepted = wanted.filter((d) => d.state === 'accepted').length;
  if (accepted === wanted.length) return 'sent';
  return accepted > 0 || wanted.some((d) => d.state === 'uncertain' || d.state === 'bounced') ? 'part-sent' : 'held';
}
