import { tokenOf } from '@chronicon/core/edition';
import { addressedTo } from '../mail/readBounce.ts';
import { BoxError, readBox } from '../mail/readBox.ts';
import { boxState, forgetTrouble, keptBounceBox, noteBox, openBox } from '../store/bounceBox.ts';
import { mailRules } from '../store/mailRules.ts';
import { bouncedDelivery, tokenKey } from '../store/mailTokens.ts';
import { takeReport } from './takeReport.ts';
import type { Tools } from './tools.ts';

/** Deliveries that a mail which came back is about, by the return paths to which it came. */
async function deliveriesIn(
  { store, secrets, clock }: Pick<Tools, 'store' | 'secrets' | 'clock'>,
  base: string,
  raw: Buffer,
): Promise<string[]> {
  const key = await tokenKey(store, secrets);
  const tokens = addressedTo(raw).flatMap((address) => tokenOf(base, address) ?? []);
  const known = await Promise.all(tokens.map((token) => bouncedDelivery(store, key, token, clock.now())));
  return [...new Set(known.filter((id) => id !== null))];
}

/** Milliseconds for which one look goes on: a mailbox that was never read may hold years of mails. */
const LONGEST_LOOK = 40_000;

/**
 * Reads the mailbox to which mails come back, where one is set, as far as it was not read yet. What keeps it from being read
 * is kept for the Desk, and goes by itself once it can be read. Another mailbox that is set meanwhile begins from its own
 * beginning.
 */
export async function readBounceBox(
  tools: Pick<Tools, 'store' | 'secrets' | 'clock' | 'log'>,
  signal?: AbortSignal,
): Promise<void> {
  const { store, secrets, clock, log } = tools;
  const kept = await keptBounceBox(store);
  const { bounces } = await mailRules(store);
  if (!kept || bounces === '') {
    await forgetTrouble(store);
    return;
  }
  const take = async (raw: Buffer): Promise<boolean> => {
    const deliveries = await deliveriesIn(tools, bounces, raw);
    if (deliveries.length > 0) await takeReport(tools, deliveries, raw);
    return deliveries.length > 0;
  };
  const until = clock.steady() + LONGEST_LOOK;
  for (let more = true; more && clock.steady() < until && !signal?.aborted; ) {
    const before = await boxState(store);
    const at = clock.now();
    try {
      const looked = await readBox(openBox(kept, secrets), before, take, signal);
      more = looked.more;
      const after = { validity: looked.validity, uid: looked.uid, readAt: at, trouble: null };
      if (!(await noteBox(store, kept, after))) return;
    } catch (error) {
      // Whoever ends the server ends the line, too: nothing is wrong with the mailbox.
      if (signal?.aborted) return;
      if (!(error instanceof BoxError)) throw error;
      log.warn({ err: error }, 'the mailbox for what comes back could not be read');
      const { reason } = error;
      const mend = `${error.mend} We retry every minute.`;
      await noteBox(store, kept, { ...before, trouble: { since: before.trouble?.since ?? at, reason, mend } });
      return;
    }
  }
}
