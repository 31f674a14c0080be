import type { Store } from './store.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** Tags that differ in their capitals alone are one; the first spelling stands. */
function once(tags: readonly string[]): string[] {
  const found = new Map<string, string>();
  for (const tag of tags) if (!found.has(tag.toLowerCase())) found.set(tag.toLowerCase(), tag);
  return [...found.values()];
}

export async function setTags(tx: Store, clientId: string, tags: readonly string[]): Promise<void> {
  await tx.deleteFrom('client_tag').where('client_id', '=', clientId).execute();
  const rows = once(tags).map((tag) => ({ client_id: clientId, tag }));
  if (rows.length > 0) await tx.insertInto('client_tag').values(rows).execute();
}

/** The tags of these clients, by client, in order. */
export async function tagsOf(db: Store, clientIds: readonly string[]): Promise<Map<string, string[]>> {
  const found = new Map<string, string[]>(clientIds.map((id) => [id, []]));
  if (clientIds.length === 0) return found;
  const rows = await db
    .selectFrom('client_tag')
    .selectAll()
    .where('client_id', 'in', clientIds)
    .orderBy('tag')
    .execute();
  for (const { client_id: id, tag } of rows) found.get(id)!.push(tag);
  return found;
}

/** Every tag that a visible client has, in order. */
export async function tagsIn(db: Store, visibility: Visibility): Promise<string[]> {
  const rows = await db
    .selectFrom('client_tag')
    .innerJoin('client', 'client.id', 'client_tag.client_id')
    .select('tag')
    .distinct()
    .where(seenIn(visibility, 'client.id'))
    .orderBy('tag')
    .execute();
  return once(rows.map((r) => r.tag));
}
