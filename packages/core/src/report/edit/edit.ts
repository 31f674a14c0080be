import type { ComparisonSpec, PeriodSpec } from '../../calendar/index.ts';
import type { FilterPart } from '../../figures/index.ts';
import type { Assumption } from '../assumptions.ts';
import type { Block } from '../blocks/registry.ts';
import type { ReportDocument, ReportPage } from '../document.ts';
import type { PaperChoice } from '../paper.ts';

export type ReportRow = ReportPage['rows'][number];

/** A report as it is edited. */
export interface Draft {
  title: string;
  document: ReportDocument;
}

/**
 * One change of a report, by the ids of what it touches: small to save, and at home in whatever others have made of the
 * rest meanwhile. `after` names what it comes to stand behind; null is the first place, and one that is gone the last.
 * Doing an edit twice does no more than doing it once.
 */
export type Edit =
  | { op: 'title'; title: string }
  | { op: 'period'; period: PeriodSpec }
  | { op: 'comparison'; comparison: ComparisonSpec }
  /** Empty: everything counts. */
  | { op: 'filter'; filter: FilterPart[] }
  | { op: 'assumptions'; assumptions: Assumption[] }
  | { op: 'attachFigures'; attach: boolean }
  /** Whether one of many sheets has a table of contents. */
  | { op: 'contents'; contents: boolean }
  /** Of a page, or of the report where none is named; an empty choice leaves it to what stands above. */
  | { op: 'paper'; page: string | null; paper: PaperChoice }
  | { op: 'addPage'; page: ReportPage; after: string | null }
  | { op: 'namePage'; page: string; title: string }
  | { op: 'dropPage'; page: string; dropped: boolean }
  | { op: 'movePage'; page: string; after: string | null }
  | { op: 'removePage'; page: string }
  | { op: 'addRow'; page: string; row: ReportRow; after: string | null }
  | { op: 'moveRow'; row: string; page: string; after: string | null }
  | { op: 'removeRow'; row: string }
  | { op: 'addBlock'; row: string; block: Block; after: string | null }
  /** Beside others of a row; a row that is left by its last block goes. */
  | { op: 'moveBlock'; block: string; row: string; after: string | null }
  /** Into a row of its own, which gets the id `row`. */
  | { op: 'liftBlock'; block: string; row: string; page: string; after: string | null }
  /** Choices of a block by their fields; null takes one away that a block may be without. */
  | { op: 'setBlock'; block: string; set: Record<string, unknown> }
  /** A row goes with its last block. */
  | { op: 'removeBlock'; block: string };
