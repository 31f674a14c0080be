import type { CivilDate } from '../calendar/index.ts';
import type { MetricSettings, Target } from '../figures/index.ts';
import type { Brand, Dates, DayNote, ReportDocument } from '../report/index.ts';

/** Everything a page is made of, but the figures: plain data, so that it can be handed to a worker and kept. */
export interface DrawOrder extends Dates {
  clientId: string;
  clientName: string;
  agencyName: string;
  title: string;
  document: ReportDocument;
  /** How the client's metrics differ from the standard ones, and what it aims at. */
  metrics: MetricSettings;
  targets: Target[];
  /** Days on which little is expected. */
  holidays: CivilDate[];
  /** Notes on days that readers are to see. */
  dayNotes: DayNote[];
  /** What was written for the period, by the id of its block. */
  commentary: Record<string, string>;
  brand: Brand;
  /** Metrics that the mail's merge fields name, asked beside those of the pages. */
  mailMetrics: string[];
  language: string;
  currency: string;
}
