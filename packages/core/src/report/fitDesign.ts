import { type Block, blockKind } from './blocks/registry.ts';
import type { ReportDocument, ReportPage } from './document.ts';

/** What a design is fitted to: which metrics a client's feeds bring, and whether they answer all that a block asks. */
export interface Fitting {
  has(metric: string): boolean;
  answers(block: Block, page: ReportPage): boolean;
  /** A dimension by which a metric is known, where a block's own is not; null for none. */
  dimensionOf(metric: string): string | null;
}

/** A block that a design loses. */
export interface Dropped {
  block: Block;
  page: string;
}

/** A block with those of its metrics alone that are there; null where it cannot stand without the others. */
function trimmed(block: Block, { has }: Fitting): Block | null {
  const values: Record<string, unknown> = { ...block };
  for (const field of blockKind(block).fields) {
    const value = values[field.key];
    if (field.kind === 'metric' && typeof value === 'string' && value !== '' && !has(value)) return null;
    if (field.kind !== 'metrics' || !Array.isArray(value)) continue;
    const kept = (value as string[]).filter(has);
    if (kept.length < field.least) return null;
    values[field.key] = kept;
  }
  return values as unknown as Block;
}

/** A block as the feeds answer it: as it is, or its opening by another dimension; null where they do not. */
function fit(block: Block, page: ReportPage, fitting: Fitting): Block | null {
  const kept = trimmed(block, fitting);
  if (kept === null || fitting.answers(kept, page)) return kept;
  if (kept.kind !== 'opening') return null;
  const dimension = fitting.dimensionOf(kept.metric);
  const other = dimension === null ? null : ({ ...kept, dimension } as Block);
  return other && fitting.answers(other, page) ? other : null;
}

/** Headings and written words say nothing alone. */
const tells = (block: Block): boolean => blockKind(block).reads;

/**
 * A design with what a client's feeds can answer alone, and what it loses: metrics of a row of several, blocks, and pages of
 * which no figure is left. One of which nothing would be left is kept whole: its places say what is lacking until a feed brings it.
 */
export function fitDesign(
  document: ReportDocument,
  fitting: Fitting,
): { document: ReportDocument; dropped: Dropped[] } {
  const dropped: Dropped[] = [];
  const pages = document.pages.flatMap((page): ReportPage[] => {
    const rows = page.rows
      .map((row) => ({
        ...row,
        blocks: row.blocks.flatMap((block): Block[] => {
          const kept = fit(block, page, fitting);
          if (kept === null) dropped.push({ block, page: page.title });
          return kept === null ? [] : [kept];
        }),
      }))
      .filter((row) => row.blocks.length > 0);
    const readBefore = page.rows.some((r) => r.blocks.some(tells));
    return readBefore && !rows.some((r) => r.blocks.some(tells)) ? [] : [{ ...page, rows }];
  });
  const isEmpty = !pages.some((p) => p.rows.some((r) => r.blocks.some(tells)));
  return isEmpty ? { document, dropped: [] } : { document: { ...document, pages }, dropped };
}
