import type { Store } from './store.ts';

/** Released reports of these clients that stand for a report there, by client: those of its template, else of its title. */
export async function likeReports(
  db: Store,
  reportId: string,
  clientIds: readonly string[],
): Promise<Map<string, { id: string; title: string }>> {
  const own = await db
    .selectFrom('report')
    .select(['released_title', 'template_id'])
    .where('id', '=', reportId)
    .executeTakeFirstOrThrow();
  const found = new Map<string, { id: string; title: string }>();
  if (clientIds.length === 0) return found;
  const rows = await db
    .selectFrom('report')
    .select(['id', 'client_id', 'released_title', 'template_id'])
    .where('client_id', 'in', clientIds)
    .where('released_document', 'is not', null)
    .orderBy('updated_at')
    .execute();
  const same = (r: (typeof rows)[number]) => own.template_id !== null && r.template_id === own.template_id;
  const named = (r: (typeof rows)[number]) => r.released_title?.toLowerCase() === own.released_title?.toLowerCase();
  for (const pick of [named, same]) {
    for (const r of rows.filter(pick)) found.set(r.client_id, { id: r.id, title: r.released_title ?? '' });
  }
  return found;
}
