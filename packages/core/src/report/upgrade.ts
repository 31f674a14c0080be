import { clampSpec } from '../calendar/index.ts';
import type { ReportDocument } from './document.ts';

/**
 * A stored document as today's code has it, whatever version and bounds it was stored under. What the schema of today
 * would refuse is brought within bounds rather than refused: a stored report must open.
 */
export function readDocument(stored: string): ReportDocument {
  const document = JSON.parse(stored) as ReportDocument;
  return {
    ...document,
    period: clampSpec(document.period),
    comparison: clampSpec(document.comparison),
    pages: document.pages.map((page) => ({
      ...page,
      rows: page.rows.map((row) => ({
        ...row,
        blocks: row.blocks.map((b) => (b.kind === 'commentary' ? { ...b, span: b.span ?? 'standing' } : b)),
      })),
    })),
  };
}
