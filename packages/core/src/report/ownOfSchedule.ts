import type { FilterPart } from '../figures/index.ts';
import type { Assumed } from './assumptions.ts';
import type { ReportDocument } from './document.ts';

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

/**
 * A report with the pages alone that are named; all of them where none are. A page that came to the report later is in
 * none that names its pages. Null where nothing of it would go out.
 */
export function choosePages(
  document: ReportDocument,
  pages: readonly string[] | null | undefined,
): ReportDocument | null {
  if (!pages) return document;
  const chosen = document.pages.filter((p) => pages.includes(p.id));
  return chosen.some((p) => !p.dropped) ? { ...document, pages: chosen } : null;
}
