import { conversionsOf } from '@chronicon/core/feeds';
import { type Conversion, type MetricSettings, moneyMeasures } from '@chronicon/core/figures';
import { mappingIn } from './imports.ts';
import type { Store } from './store.ts';

/** The rates by which a client's money was converted as its files came in, on the days for which they count (SEMANTICS §13). */
export async function conversionsAt(
  db: Store,
  client: { id: string; currency: string; metrics: MetricSettings },
): Promise<Conversion[]> {
  const rows = await db
    .selectFrom('file_import')
    .select(['feed_id', 'mapping', 'first', 'last'])
    .where('client_id', '=', client.id)
    .where('state', '=', 'done')
    .where('feed_id', 'in', (q) =>
      q
        .selectFrom('file_import as rated')
        .select('rated.feed_id')
        .where('rated.client_id', '=', client.id)
        .where('rated.mapping', 'like', '%"rates":%'),
    )
    .orderBy('done_at')
    .orderBy('id')
    .execute();
  if (rows.length === 0) return [];
  const money = moneyMeasures(client.metrics);
  return [...new Set(rows.map((r) => r.feed_id))].flatMap((feed) => {
    const files = rows.flatMap(({ feed_id, mapping, first, last }) =>
      feed_id === feed && mapping !== null && first !== null && last !== null
        ? [{ mapping: mappingIn(mapping), range: { from: first, to: last } }]
        : [],
    );
    return conversionsOf(files, client.currency, (m) => money.has(m));
  });
}
