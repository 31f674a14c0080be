import { outcomeOf } from '@chronicon/core/edition';
import { editionById, moveEdition, patchEdition } from '../store/editions.ts';
import { NEVER } from '../store/feeds.ts';
import { type DeliveryRow, deliveriesOf, roundsOf } from '../store/messages.ts';
import type { Store } from '../store/store.ts';

/** Of each reader, what became of the last mail that went to them: what was sent once more stands for what was sent before. */
async function lastOf(tx: Store, editionId: string): Promise<DeliveryRow[]> {
  const rounds = await roundsOf(tx, editionId);
  const last = new Map<string, DeliveryRow>();
  for (const d of await deliveriesOf(tx, [editionId])) {
    const before = last.get(d.reader_id);
    if (!before || rounds.get(d.message_id)! >= rounds.get(before.message_id)!) last.set(d.reader_id, d);
  }
  return [...last.values()];
}

/**
 * What an edition on its way has come to, once its deliveries are what they are; in the transaction that changed one.
 * While some are under way, it says what it waits for.
 */
export async function settleEdition(tx: Store, editionId: string, at: string): Promise<void> {
  const e = await editionById(tx, editionId);
  // What was sent is looked at anew where a mail comes back.
  if (!e || !['sending', 'sent', 'part-sent'].includes(e.state)) return;
  const deliveries = await lastOf(tx, editionId);
  if (e.state !== 'sending' && !deliveries.some((d) => d.state === 'bounced')) return;
  const outcome = outcomeOf(
    deliveries.map((d) => ({ state: d.state, nextTry: d.next_at === NEVER ? null : d.next_at })),
  );
  if (outcome === null) {
    const waiting = deliveries.find((d) => d.state === 'deferred' || d.state === 'uncertain');
    const reason = waiting?.reply ? `The mail server hasn’t accepted it yet: ${waiting.reply} Retrying.` : null;
    if (reason !== e.reason) await patchEdition(tx, e, { reason });
    return;
  }
  const who = (state: DeliveryRow['state']) =>
    deliveries
      .filter((d) => d.state === state)
      .map((d) => `${d.email} (${d.reply ?? 'no reply'})`)
      .join(', ');
  const sentences = [
    who('bounced') && `Bounced for ${who('bounced')}.`,
    who('refused') && `Refused for ${who('refused')}.`,
    who('uncertain') && `Delivery to ${who('uncertain')} is unconfirmed.`,
    outcome === 'skipped' && 'All its readers were removed before it was sent.',
  ].filter((s) => s);
  const reason = sentences.length > 0 ? sentences.join(' ') : null;
  const code = outcome === 'held' ? ('refused' as const) : null;
  if (outcome === e.state) await patchEdition(tx, e, { reason });
  else await moveEdition(tx, e, outcome, { reason, code, next_at: null }, { at, actor: 'scheduler' });
}
