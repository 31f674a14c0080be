import { tokenOf } from '@chronicon/core/edition';
import { addressedTo, readBounce } from '../post/readBounce.ts';
import { BoxError, readBox } from '../post/readBox.ts';
import { type BoxState, bounceBox, boxState, setBoxState } from '../store/bounceBox.ts';
import { deliveryById } from '../store/messages.ts';
import { deliveryOfToken, postRules, tokenKey } from '../store/postRules.ts';
import { takeBounce } from './bounces.ts';
import type { Tools } from './tools.ts';

/** Deliveries that a mail which came back is about, by the return paths to which it came. */
async function deliveriesIn({ store }: Pick<Tools, 'store'>, base: string, raw: Buffer): Promise<string[]> {
  const key = await tokenKey(store);
  const tokens = addressedTo(raw).flatMap((address) => tokenOf(base, address) ?? []);
  const ids = [...new Set(tokens.flatMap((token) => deliveryOfToken(key, token) ?? []))];
  const known = await Promise.all(ids.map(async (id) => ((await deliveryById(store, id)) ? id : null)));
  return known.filter((id) => id !== null);
}

/**
 * Reads the mailbox to which mails come back, where one is set, as far as it was not read yet. What keeps it from being read
 * is kept for the Desk, and goes by itself once it can be read.
 */
export async function readBounceBox(tools: Pick<Tools, 'store' | 'secrets' | 'clock' | 'log'>): Promise<void> {
  const { store, secrets, clock, log } = tools;
  const box = await bounceBox(store, secrets);
  const { bounces } = await postRules(store);
  if (!box || bounces === '') return;
  const before = await boxState(store);
  const at = clock.now();
  let after: BoxState;
  try {
    const looked = await readBox(box, before, async ({ raw }) => {
      const deliveries = await deliveriesIn(tools, bounces, raw);
      const statuses = deliveries.length > 0 ? await readBounce(raw) : [];
      for (const id of deliveries) await takeBounce(tools, id, statuses);
      return deliveries.length > 0;
    });
    after = { validity: looked.validity, uid: looked.uid, readAt: at, trouble: null };
  } catch (error) {
    if (!(error instanceof BoxError)) throw error;
    log.warn({ err: error }, 'the mailbox for what comes back could not be read');
    const { reason, mend } = error;
    after = { ...before, trouble: { since: before.trouble?.since ?? at, reason, mend } };
  }
  await setBoxState(store, after);
}
