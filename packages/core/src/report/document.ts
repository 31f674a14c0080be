import { z } from 'zod';
import { MOST_ABREAST, MOST_BLOCKS, MOST_PAGES, MOST_ROWS } from '../bounds/index.ts';
import { keyOf, type MetricBook, type Question } from '../figures/index.ts';
import type { Dates, Scope } from './blocks/block.ts';
import { type Block, blockKind, blockSchema } from './blocks/registry.ts';
import { paperChoice } from './paper.ts';
import { comparisonSpec, periodSpec } from './specs.ts';

/** What a report is called. */
export const titleSchema = z.string().trim().min(1, 'Give the report a title.').max(120, 'Keep it to 120 characters.');

export const rowSchema = z.strictObject({
  id: z.string(),
  /** Side by side, in equal parts. */
  blocks: z.array(blockSchema).min(1).max(MOST_ABREAST),
});

export const pageSchema = z.strictObject({
  id: z.string(),
  title: z.string().trim().min(1, 'A page needs a title.').max(80, 'Keep a page title to 80 characters.'),
  rows: z.array(rowSchema).max(MOST_ROWS, `A page has at most ${MOST_ROWS} rows.`),
  /** Its own paper, where that is another one than the report's. */
  paper: paperChoice.optional(),
});

/** The design of a report: what it covers by default and what stands on its pages. */
export const documentSchema = z.strictObject({
  version: z.literal(1),
  period: periodSpec,
  comparison: comparisonSpec,
  /** Where it is another one than the client's. */
  paper: paperChoice.optional(),
  /** Whether the figures of its pages go along within the file, as CSV. */
  attachFigures: z.boolean().optional(),
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

/** What a block shows of a page with these dates. */
export function scopeOf(block: Block, page: Dates): Scope {
  const kind = blockKind(block);
  return { ...kind.datesOf(block, page), filter: kind.scopeOf(block) };
}

/** A page as a whole: its own dates, nothing left out. */
export const wholePage = ({ period, compared, yardstick }: Dates): Scope => ({
  period,
  compared,
  yardstick,
  filter: {},
});

/** What may be odd about a metric's figure, and about what it is held against. */
export const oddQuestion = (metric: string, { period, compared, filter }: Scope): Question => ({
  op: 'oddDays',
  metric,
  range: period,
  compared,
  filter,
});

/** A metric, with what of it is shown. */
export interface Shown {
  metric: string;
  scope: Scope;
}

const shownBy = (block: Block, page: Dates): Shown[] => {
  const scope = scopeOf(block, page);
  return blockKind(block)
    .metricsOf(block)
    .map((metric) => ({ metric, scope }));
};

/** The metrics that a document's blocks show of these dates, in reading order. */
export const shownIn = (document: ReportDocument, page: Dates): Shown[] =>
  blocksOf(document).flatMap((b) => shownBy(b, page));

/** What a document's blocks want to know for these dates, and what may be odd there; equal questions are asked once. */
export function questionsOf(document: ReportDocument, page: Dates): Question[] {
  const asked = new Map<string, Question>();
  for (const block of blocksOf(document)) {
    const odd = shownBy(block, page).map(({ metric, scope }) => oddQuestion(metric, scope));
    for (const q of [...blockKind(block).questions(block, scopeOf(block, page)), ...odd]) asked.set(keyOf(q), q);
  }
  return [...asked.values()];
}
