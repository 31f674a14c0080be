import type { Look } from '@chronicon/core/contract';
import type { Furnished, TestFixture } from './harness.ts';

type Page = { ops: readonly { k: string; text?: string }[] };

/** What is read on pages, one text after the other. */
export const readOn = (pages: readonly Page[]): string[] =>
  pages.flatMap((page) => page.ops.flatMap((op) => (op.k === 'text' ? [op.text!.trim()] : [])));

export const OCTOBER: Look = { kind: 'dates', from: '2026-10-01', to: '2026-10-31' };

/** One report at the composer: its edits, and what its pages say. */
export function editing(fixture: TestFixture, { report }: Pick<Furnished, 'report'>) {
  const params = { report };
  const load = async () => (await fixture.owner.ask('GET /api/reports/:report', { params })).body;
  return {
    load,
    async edit(...edits: object[]) {
      const { version } = await load();
      return fixture.owner.ask('POST /api/reports/:report/edits', { params, body: { version, edits } });
    },
    async release() {
      const { version } = await load();
      return fixture.owner.ask('POST /api/reports/:report/release', { params, body: { version } });
    },
    /** The pages as the composer shows them, of October where nothing else is looked at. */
    async shows(look: Look = OCTOBER) {
      const { body } = await fixture.owner.ask('POST /api/reports/:report/preview', { params, body: { look } });
      return { texts: readOn(body.pages.map((p) => p.page!)), lacks: body.lacks, sheets: body.pages.length };
    },
  };
}

/** Blocks as a page of their own, one below the other. */
export const pageOf = (id: string, ...blocks: { id: string; kind: string; [choice: string]: unknown }[]) => ({
  op: 'addPage' as const,
  page: { id, title: id, rows: blocks.map((block) => ({ id: `${block.id}-row`, blocks: [block] })) },
  after: null,
});
