import { z } from 'zod';
import { MOST_ABREAST, MOST_BLOCKS, MOST_PAGES, MOST_ROWS, PAGE_TITLE, TEXT } from '../bounds/index.ts';
import type { MetricBook } from '../figures/index.ts';
import { assumptionsSchema } from './assumptions.ts';
import { blockId } from './blocks/blockId.ts';
import { blockKind, blockSchema } from './blocks/registry.ts';
import { filterSchema } from './filterSchema.ts';
import { paperChoice } from './paper.ts';
import { comparisonSpec, periodSpec } from './specs.ts';

/** What a report is called. */
export const titleSchema = z
  .string()
  .trim()
  .min(1, 'Enter a report title.')
  .max(TEXT.title, `Maximum ${TEXT.title} characters.`);

export const rowSchema = z.strictObject({
  id: blockId,
  /** Side by side on the page's columns; those that have no room there stand beneath. */
  blocks: z.array(blockSchema).min(1).max(MOST_ABREAST),
});

export const pageSchema = z.strictObject({
  id: blockId,
  title: z.string().trim().min(1, 'Enter a page title.').max(PAGE_TITLE, `Maximum ${PAGE_TITLE} characters.`),
  rows: z.array(rowSchema).max(MOST_ROWS, `A page has at most ${MOST_ROWS} rows.`),
  /** Its own paper, where that is another one than the report's. */
  paper: paperChoice.optional(),
  /** Left out of what goes out. */
  dropped: z.literal(true).optional(),
});

/** The design of a report: what it covers by default and what stands on its pages. */
export const documentSchema = z.strictObject({
  version: z.literal(2),
  period: periodSpec,
  comparison: comparisonSpec,
  /** What is counted of the figures; left out: everything. */
  filter: filterSchema.optional(),
  assumptions: assumptionsSchema.optional(),
  /** Where it is another one than the client's. */
  paper: paperChoice.optional(),
  /** Whether the figures of its pages go along within the file, as CSV. */
  attachFigures: z.boolean().optional(),
  /** Without a table of contents, however many sheets it has. */
  noContents: z.literal(true).optional(),
  pages: z
    .array(pageSchema)
    .min(1, 'A report needs a page.')
    .max(MOST_PAGES, `A report has at most ${MOST_PAGES} pages.`)
    .refine((pages) => pages.reduce((n, p) => n + p.rows.reduce((m, r) => m + r.blocks.length, 0), 0) <= MOST_BLOCKS, {
      message: `A report has at most ${MOST_BLOCKS} blocks.`,
    })
    .refine((pages) => {
      const ids = pages.flatMap((p) => p.rows.flatMap((r) => r.blocks.map((b) => b.id)));
      return new Set(ids).size === ids.length;
    }, 'Two blocks have the same id.')
    .refine((pages) => pages.some((p) => !p.dropped), 'At least one page must be included in editions.'),
});

export type ReportDocument = z.infer<typeof documentSchema>;
export type ReportPage = ReportDocument['pages'][number];

/** Every block of a document, in reading order. */
export const blocksOf = (document: ReportDocument) => document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));

/** The files that its pictures are, by hash. */
export const pictureFiles = (document: ReportDocument): string[] =>
  blocksOf(document).flatMap((b) => (b.kind === 'picture' && b.picture?.kind === 'image' ? [b.picture.file] : []));

/** What of a document goes out: its pages without those that are dropped, their blocks without those that never stand. */
export function standing(document: ReportDocument): ReportDocument {
  const pages = document.pages
    .filter((p) => !p.dropped)
    .map((page) => ({
      ...page,
      rows: page.rows.flatMap((row) => {
        const blocks = row.blocks.filter((b) => b.when !== 'never');
        return blocks.length > 0 ? [{ ...row, blocks }] : [];
      }),
    }));
  return { ...document, pages };
}

/** What of a document's blocks a client's metrics cannot answer, by path, with the id of the block. */
export function documentFaults(
  document: ReportDocument,
  book: MetricBook,
): { block: string; path: string; message: string }[] {
  const assumed = (document.assumptions ?? []).flatMap(({ key }, i) =>
    book.has(key)
      ? [{ block: '', path: `assumptions.${i}.label`, message: `A metric with this key already exists: ${key}.` }]
      : [],
  );
  const ofBlocks = document.pages.flatMap((page, p) =>
    page.rows.flatMap((r, i) =>
      r.blocks.flatMap((block, b) =>
        blockKind(block)
          .check(block, book)
          .map(({ field, message }) => ({
            block: block.id,
            path: `pages.${p}.rows.${i}.blocks.${b}.${field}`,
            message,
          })),
      ),
    ),
  );
  return [...assumed, ...ofBlocks];
}
