import type { FilterPart } from '../figures/index.ts';
import type { Assumed } from './assumptions.ts';
import { blockKind } from './blocks/registry.ts';
import type { ReportDocument, ReportPage } from './document.ts';

/** What a schedule has of its own beside its dates; what is empty is as the report and the client have it. */
export interface OwnOfSchedule {
  /** Assumptions that are set anew, by key. */
  assumed?: Assumed | undefined;
  /** What alone is counted, on every page and in the mail: beside the filters of the report and its blocks. */
  filter?: FilterPart[] | undefined;
  /** The locale of pages and mails. */
  language?: string;
}

/** The same, with what is empty left out: an edition of a schedule without any is made of the same bytes as before. */
export const ownOfSchedule = ({
  assumed = {},
  filter = [],
  language,
}: Omit<OwnOfSchedule, 'language'> & { language?: string | null | undefined }): OwnOfSchedule => ({
  ...(Object.keys(assumed).length > 0 && { assumed }),
  ...(filter.length > 0 && { filter }),
  ...(language && { language }),
});

/** What of a report a schedule sends. */
export interface ChosenParts {
  /** Pages by id; all of them where none are named. */
  pages?: readonly string[] | null | undefined;
  /** Blocks by id that it leaves out. */
  leftOut?: readonly string[] | undefined;
}

/** Whether a page shows any figures. */
const shows = (page: ReportPage): boolean => page.rows.some((r) => r.blocks.some((b) => blockKind(b).reads));

/** A page without some of its blocks; null where they were all that it had, or all that showed figures. */
function withoutBlocks(page: ReportPage, leftOut: readonly string[]): ReportPage | null {
  const rows = page.rows
    .map((row) => ({ ...row, blocks: row.blocks.filter((b) => !leftOut.includes(b.id)) }))
    .filter((row) => row.blocks.length > 0);
  const left = { ...page, rows };
  const isLost = (rows.length === 0 && page.rows.length > 0) || (shows(page) && !shows(left));
  return isLost ? null : left;
}

/**
 * A report with what a schedule sends of it: the pages alone that are named, all of them where none are, without the blocks that
 * it leaves out. A page that came to the report later is in none that names its pages. Null where nothing of it would go out.
 */
export function chooseParts(document: ReportDocument, { pages, leftOut = [] }: ChosenParts): ReportDocument | null {
  if (!pages && leftOut.length === 0) return document;
  const named = pages ? document.pages.filter((p) => pages.includes(p.id)) : document.pages;
  const chosen = leftOut.length === 0 ? named : named.flatMap((p) => withoutBlocks(p, leftOut) ?? []);
  return chosen.some((p) => !p.dropped) ? { ...document, pages: chosen } : null;
}
