import { Refusal } from '../platform/refusal.ts';
import type { StoredClient } from '../store/clients.ts';

/** @throws Refusal 409 for a client that was put aside: nothing is made or sent for it */
export function checkWorking(client: Pick<StoredClient, 'name' | 'inactiveSince'>): void {
  if (client.inactiveSince === null) return;
  throw new Refusal(409, `${client.name} is inactive. Reactivate it first.`);
}
