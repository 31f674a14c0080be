import { delegationsDue, endDelegation } from '../store/delegation.ts';
import { record } from '../store/ledger.ts';
import { inTransaction } from '../store/store.ts';
import type { Tools } from './tools.ts';

/** Gives clients back whose time in a colleague's hands is over. */
export async function endDelegations({ store, clock }: Pick<Tools, 'store' | 'clock'>): Promise<void> {
  const at = clock.now();
  for (const due of await delegationsDue(store, at)) {
    await inTransaction(store, async (tx) => {
      const back = await endDelegation(tx, due, at);
      if (!back) return;
      const detail = { clients: back, to: due.from_member };
      await record(tx, { at, actor: 'scheduler', action: 'clients.back', subject: due.to_member, detail });
    });
  }
}
