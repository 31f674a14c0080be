import { type ComparisonSpec, clampSpec, type PeriodSpec } from '../../calendar/index.ts';
import { documentSchema, type ReportDocument } from '../document.ts';
import { parseStored, readAs } from './stored.ts';

type Json = Record<string, unknown>;

/** Commentary of before it could be written for one period stands in the report. */
const withSpan = (block: Json): Json => (block.kind === 'commentary' ? { span: 'standing', ...block } : block);

/** Of a list, each; of anything else, itself: the schema will say so. */
const each = (value: unknown, change: (item: Json) => unknown): unknown =>
  Array.isArray(value) ? value.map((v) => (typeof v === 'object' && v !== null ? change(v as Json) : v)) : value;

/** A specification of dates within today's bounds; anything else is left to the schema. */
const clamped = (spec: unknown): unknown =>
  typeof spec === 'object' && spec !== null ? clampSpec(spec as PeriodSpec | ComparisonSpec) : spec;

/**
 * A document as today's code has it, from the plain value that any version has stored. What the schema of today would
 * refuse for its measure is brought within bounds, or kept, rather than refused: a stored report must open.
 * @throws StoredError for what no version has written
 */
export function upgradeDocument(stored: unknown, what = 'a report'): ReportDocument {
  if (typeof stored !== 'object' || stored === null) return readAs(documentSchema, stored as never, what);
  const document = stored as Json;
  const upgraded = {
    ...document,
    // What the second version added may all be left out.
    version: document.version === 1 ? 2 : document.version,
    period: clamped(document.period),
    comparison: clamped(document.comparison),
    pages: each(document.pages, (page) => ({
      ...page,
      rows: each(page.rows, (row) => ({ ...row, blocks: each(row.blocks, withSpan) })),
    })),
  };
  return readAs<ReportDocument>(documentSchema, upgraded, what);
}

/** {@link upgradeDocument} of a stored text. @throws StoredError */
export const readDocument = (stored: string, what = 'a report'): ReportDocument =>
  upgradeDocument(parseStored(stored, what), what);
