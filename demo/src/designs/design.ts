import type { Assumption, Block, PaperChoice, ReportDocument } from '@chronicon/core/report';

/** A block without the id that a new document gives it. */
export type Draft = Block extends infer B ? (B extends Block ? Omit<B, 'id'> : never) : never;

/** A report as it is thought of: pages with rows of blocks. */
export interface Design {
  paper?: PaperChoice;
  assumptions?: Assumption[];
  pages: { title: string; paper?: PaperChoice; rows: Draft[][] }[];
}

/** What is written for each period, or stands. */
export const words = (standing = ''): Draft => ({
  kind: 'commentary',
  span: standing === '' ? 'period' : 'standing',
  text: standing,
});

/** A document of a design: last month against the month before, where nobody says otherwise. */
export function documentOf({ pages, ...rest }: Design, makeId: () => string): ReportDocument {
  return {
    version: 2,
    period: { kind: 'unit', unit: 'month', offset: -1 },
    comparison: { kind: 'previous' },
    ...rest,
    pages: pages.map((page) => ({
      ...page,
      id: makeId(),
      rows: page.rows.map((blocks) => ({
        id: makeId(),
        blocks: blocks.map((b) => ({ ...b, id: makeId() }) as Block),
      })),
    })),
  };
}
