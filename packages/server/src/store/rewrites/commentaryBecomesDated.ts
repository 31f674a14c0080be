import type { ReportDocument } from '@chronicon/core/report';
import type { Kysely } from 'kysely';
import type { Tables } from '../schema.ts';

/**
 * Commentary that was a part of its report belongs to the period of the last edition that showed it: under other
 * figures it would be untrue. What no edition has shown yet stays as standing text, for a person to look at.
 */
export async function commentaryBecomesDated(db: Kysely<Tables>): Promise<void> {
  const reports = await db.selectFrom('report').selectAll().execute();
  for (const report of reports) {
    const shown = await db
      .selectFrom('edition')
      .select(['period_from', 'period_to'])
      .where('report_id', '=', report.id)
      .where('pdf', 'is not', null)
      .where('period_from', 'is not', null)
      .where('kind', '!=', 'test')
      .orderBy('due_at', 'desc')
      .limit(1)
      .executeTakeFirst();
    const document = JSON.parse(report.document) as ReportDocument;
    for (const block of document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks))) {
      if (block.kind !== 'commentary') continue;
      if (block.text.trim() !== '' && !shown) {
        block.span = 'standing';
        continue;
      }
      if (block.text.trim() !== '' && shown) {
        await db
          .insertInto('commentary')
          .values({
            report_id: report.id,
            block_id: block.id,
            first: shown.period_from!,
            last: shown.period_to!,
            draft: block.text,
            released: block.text,
            updated_at: report.updated_at,
            updated_by: null,
          })
          .execute();
      }
      block.span = 'period';
      block.text = '';
    }
    const rewritten = JSON.stringify(document);
    await db
      .updateTable('report')
      .set({ document: rewritten, released_document: rewritten })
      .where('id', '=', report.id)
      .execute();
  }
}
