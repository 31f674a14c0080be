import { setTimeout as sleep } from 'node:timers/promises';
import { dropLease, type Instance, takeLease } from './instances.ts';
import type { Store } from './store.ts';

const POLL_MS = 200;

/**
 * Does something that one server at a time may do with a feed or a connection. While another server that is alive does
 * it, waits for that one, up to `wait` milliseconds.
 * @returns whether it was done here; false where another server did it, or is still at it
 */
export async function underLease(
  { store, instance }: { store: Store; instance: Instance },
  table: 'feed' | 'connection',
  id: string,
  wait: number,
  work: () => Promise<void>,
): Promise<boolean> {
  for (let waited = 0; waited <= wait; waited += POLL_MS) {
    const lease = await takeLease(store, table, id, instance);
    if (lease) {
      try {
        await work();
      } finally {
        await dropLease(store, table, id, lease);
      }
      return true;
    }
    await sleep(POLL_MS);
  }
  return false;
}
