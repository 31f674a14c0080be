import type { CivilDate } from '../calendar/index.ts';
import type { Conversion, MetricSettings, Target } from '../figures/index.ts';
import type {
  Brand,
  DayNote,
  Paper,
  PictureFile,
  ReportDocument,
  ReportScope,
  ToldExclusion,
} from '../report/index.ts';
import type { Manager } from './manager.ts';

/** Everything a page is made of, but the figures: plain data, so that it can be handed to a worker and kept. */
export interface DrawOrder extends ReportScope {
  clientId: string;
  clientName: string;
  /** Its website's host; left out in editions of before it was read. */
  site?: string | undefined;
  agencyName: string;
  /** Whom readers may ask. */
  manager: Manager | null;
  /** The day on which the figures were read; null in editions of before it was said. */
  asOf: CivilDate | null;
  title: string;
  document: ReportDocument;
  /** Of the client, where report and page say nothing. */
  paper: Paper;
  /** How the client's metrics differ from the standard ones, and what it aims at. */
  metrics: MetricSettings;
  /** The same under the usual assumptions, where others are made. */
  usual?: MetricSettings | undefined;
  targets: Target[];
  /** Days on which little is expected. */
  holidays: CivilDate[];
  /** Days that are left out of the client's figures, with the reason where it is printed; left out for none. */
  excluded?: ToldExclusion[] | undefined;
  /** Rates by which money was converted as it came in; left out for none. */
  converted?: Conversion[] | undefined;
  /** Notes on days that readers are to see. */
  dayNotes: DayNote[];
  /** What was written for the period, by the id of its block. */
  commentary: Record<string, string>;
  brand: Brand;
  /**
   * Pictures of items by the address at which they are found; null for what is not to be had. Left out while none were
   * looked for, and in editions of before.
   */
  pictures?: Readonly<Record<string, PictureFile | null>> | undefined;
  /** Metrics that the mail's merge fields name, asked beside those of the pages. */
  mailMetrics: string[];
  /** Blocks that the mail shows, by their ids; left out in editions of before, whose mails showed none. */
  mailBlocks?: string[] | undefined;
  language: string;
  currency: string;
}
