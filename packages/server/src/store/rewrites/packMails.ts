import { type Kysely, sql } from 'kysely';
import { packed, picturesNamedIn } from '../packed.ts';
import type { Tables } from '../schema.ts';

/** Packs what mails of before say, a hundred at a time: there may be a gigabyte of them. What is not packed goes. */
export async function packMails(db: Kysely<Tables>): Promise<void> {
  for (;;) {
    const { rows } = await sql<{ id: string; html: string; text: string }>`
      select id, html, text from message where length(body) = 0 limit 100`.execute(db);
    if (rows.length === 0) break;
    for (const { id, ...body } of rows) {
      await db
        .updateTable('message')
        .set({ body: await packed({ ...body, pictures: picturesNamedIn(body.html) }) })
        .where('id', '=', id)
        .execute();
    }
  }
  for (const column of ['html', 'text']) await sql`alter table message drop column ${sql.ref(column)}`.execute(db);
}
