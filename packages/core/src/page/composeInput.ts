import type { Answers, MetricBook } from '../figures/index.ts';
import type { Brand, Dates, DayNote, ReportDocument } from '../report/index.ts';
import type { Formatter } from '../words/index.ts';
import type { Ruler } from './ruler.ts';

/** Everything a page is made of. Composing is pure over it. */
export interface ComposeInput extends Dates {
  title: string;
  clientName: string;
  agencyName: string;
  document: ReportDocument;
  answers: Answers;
  book: MetricBook;
  dayNotes: readonly DayNote[];
  /** What was written for the period, by the id of its block. */
  commentary: Readonly<Record<string, string>>;
  brand: Brand;
  format: Formatter;
  ruler: Ruler;
}
