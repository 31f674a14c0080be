import { type Kysely, sql } from 'kysely';
import type { Tables } from '../schema.ts';

type Kept = Partial<Record<'schedules' | 'lists' | 'noted' | 'made', object[]>> & { editions?: string[] };

/** Acts on many schedules kept all that they changed as one text; each change becomes a row of its own. */
export async function bulkChanges(db: Kysely<Tables>): Promise<void> {
  const { rows } = await sql<{ id: string; kept: string }>`select id, kept from bulk_act`.execute(db);
  const kinds = { schedules: 'schedule', lists: 'list', noted: 'noted', made: 'made' } as const;
  for (const { id, kept } of rows) {
    const all = JSON.parse(kept) as Kept;
    const changes = [
      ...Object.entries(kinds).flatMap(([key, kind]) =>
        (all[key as keyof typeof kinds] ?? []).map((change) => ({ kind, ...change })),
      ),
      ...(all.editions ?? []).map((edition) => ({ kind: 'edition', id: edition })),
    ];
    for (const [i, change] of changes.entries())
      await sql`insert into bulk_change (act_id, n, detail, undone)
        values (${id}, ${i + 1}, ${JSON.stringify(change)}, 0)`.execute(db);
  }
  await sql`alter table bulk_act drop column kept`.execute(db);
}
