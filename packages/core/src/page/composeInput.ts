import type { CivilDate } from '../calendar/index.ts';
import type { Answers, Conversion, MetricBook } from '../figures/index.ts';
import type { Brand, DayNote, Logo, Paper, ReportDocument, ReportScope, ToldExclusion } from '../report/index.ts';
import type { Formatter } from '../words/index.ts';
import type { PageRuler, Ruler } from './ruler.ts';

/** Whom a reader may ask about a report. */
export interface Manager {
  name: string;
  email: string;
}

/** Everything a page is made of. Composing is pure over it. */
export interface ComposeInput extends ReportScope {
  title: string;
  clientName: string;
  /** Its website's host, where it has one. */
  site?: string | undefined;
  agencyName: string;
  /** Null where nobody is named. */
  manager: Manager | null;
  /** The day of the figures as they are known; null where it is not said. */
  asOf: CivilDate | null;
  document: ReportDocument;
  /** Of the client; the report and its pages may say otherwise. */
  paper: Paper;
  answers: Answers;
  book: MetricBook;
  dayNotes: readonly DayNote[];
  /** Days that are left out of the client's figures, with the reason where it is printed; left out for none. */
  excluded?: readonly ToldExclusion[] | undefined;
  /** Rates by which money was converted as it came in; left out for none. */
  converted?: readonly Conversion[] | undefined;
  /** What was written for the period, by the id of its block. */
  commentary: Readonly<Record<string, string>>;
  brand: Brand;
  /** Pictures of items by the address at which they are found. */
  pictures?: Readonly<Record<string, Logo | null>> | undefined;
  format: Formatter;
  ruler: Ruler;
}

/** The same, with a ruler of the page's own language and direction. */
export type PageInput = Omit<ComposeInput, 'ruler'> & { ruler: PageRuler };
