import type { Store } from './store.ts';

/** The first instant after one, up to another, for which anything is planned: a run, an edition's next step, or a mail's; null for none. */
export async function nextInstant(db: Store, after: string, until: string): Promise<string | null> {
  const run = await db
    .selectFrom('run')
    .select('at')
    .where('at', '>', after)
    .where('at', '<=', until)
    .orderBy('at')
    .limit(1)
    .executeTakeFirst();
  const edition = await db
    .selectFrom('edition')
    .select('next_at as at')
    .where('next_at', '>', after)
    .where('next_at', '<=', until)
    .orderBy('next_at')
    .limit(1)
    .executeTakeFirst();
  const delivery = await db
    .selectFrom('delivery')
    .select('next_at as at')
    .where('state', 'in', ['queued', 'deferred', 'uncertain'])
    .where('next_at', '>', after)
    .where('next_at', '<=', until)
    .orderBy('next_at')
    .limit(1)
    .executeTakeFirst();
  const found = [run, edition, delivery].flatMap((row) => (row?.at ? [row.at] : []));
  return found.length === 0 ? null : found.reduce((a, b) => (a < b ? a : b));
}
