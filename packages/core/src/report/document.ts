import { z } from 'zod';
import { MOST_ABREAST, MOST_BLOCKS, MOST_PAGES, MOST_ROWS } from '../bounds/index.ts';
import { keyOf, type MetricBook, type Question } from '../figures/index.ts';
import { blockKind, blockSchema } from './blocks/registry.ts';
import type { Dates } from './blocks/sheet.ts';
import { comparisonSpec, periodSpec } from './specs.ts';

const row = z.strictObject({
  id: z.string(),
  /** Side by side, in equal parts. */
  blocks: z.array(blockSchema).min(1).max(MOST_ABREAST),
});

const page = z.strictObject({
  id: z.string(),
  title: z.string().trim().min(1, 'A page needs a title.').max(80, 'Keep a page title to 80 characters.'),
  rows: z.array(row).max(MOST_ROWS, `A page has at most ${MOST_ROWS} rows.`),
});

/** The design of a report: what it covers by default and what stands on its pages. */
export const documentSchema = z.strictObject({
  version: z.literal(1),
  period: periodSpec,
  comparison: comparisonSpec,
  pages: z
    .array(page)
    .min(1, 'A report needs a page.')
    .max(MOST_PAGES, `A report has at most ${MOST_PAGES} pages.`)
    .refine((pages) => pages.reduce((n, p) => n + p.rows.reduce((m, r) => m + r.blocks.length, 0), 0) <= MOST_BLOCKS, {
      message: `A report has at most ${MOST_BLOCKS} blocks.`,
    })
    .refine((pages) => {
      const ids = pages.flatMap((p) => p.rows.flatMap((r) => r.blocks.map((b) => b.id)));
      return new Set(ids).size === ids.length;
    }, 'Two blocks have the same id.'),
});

export type ReportDocument = z.infer<typeof documentSchema>;
export type ReportPage = ReportDocument['pages'][number];

/** Every block of a document, in reading order. */
export const blocksOf = (document: ReportDocument) => document.pages.flatMap((p) => p.rows.flatMap((r) => r.blocks));

/** What of a document's blocks a client's metrics cannot answer, by path. */
export function documentFaults(document: ReportDocument, book: MetricBook): { path: string; message: string }[] {
  return document.pages.flatMap((page, p) =>
    page.rows.flatMap((r, i) =>
      r.blocks.flatMap((block, b) =>
        blockKind(block)
          .check(block, book)
          .map(({ field, message }) => ({ path: `pages.${p}.rows.${i}.blocks.${b}.${field}`, message })),
      ),
    ),
  );
}

/** What a document's blocks want to know for these dates; equal questions are asked once. */
export function questionsOf(document: ReportDocument, dates: Dates): Question[] {
  const asked = new Map<string, Question>();
  for (const block of blocksOf(document)) {
    for (const q of blockKind(block).questions(block, dates)) asked.set(keyOf(q), q);
  }
  return [...asked.values()];
}
