import { periodCommentariesOf, readDocument } from '@chronicon/core/report';
import type { Kysely } from 'kysely';
import type { Tables } from '../schema.ts';

/** Lists, of each release, the blocks whose words are written for one period. */
export async function listWrittenBlocks(db: Kysely<Tables>): Promise<void> {
  const reports = await db.selectFrom('report').select(['id', 'released_document']).execute();
  for (const { id, released_document: document } of reports) {
    if (document === null) continue;
    const blocks = periodCommentariesOf(readDocument(document, `the release of ${id}`));
    for (const [position, block_id] of blocks.entries()) {
      await db.insertInto('written_block').values({ report_id: id, block_id, position }).execute();
    }
  }
}
