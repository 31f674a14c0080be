import { assume, assumedIn, metricBook } from '@chronicon/core/figures';
import { type Assumption, assumedBy } from '@chronicon/core/report';
import type { StoredClient } from '../store/clients.ts';
import { reportsOf } from '../store/reports.ts';
import type { Store } from '../store/store.ts';

/** The assumptions of a client's reports, as they are edited; of those with one key the first report's, by title. */
export async function assumptionsOf(db: Store, clientId: string): Promise<Assumption[]> {
  const all = (await reportsOf(db, clientId)).flatMap((r) => r.document.assumptions ?? []);
  return [...new Map([...all].reverse().map((a) => [a.key, a])).values()];
}

/** A client with its metrics as its reports assume them to be by default: reports are read only where a formula asks. */
export async function underAssumptions(db: Store, client: StoredClient): Promise<StoredClient> {
  if (assumedIn(client.metrics, metricBook({ ...client.metrics }).has).length === 0) return client;
  return { ...client, metrics: assume(client.metrics, assumedBy(await assumptionsOf(db, client.id))) };
}
