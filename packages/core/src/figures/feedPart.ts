import type { CivilDate } from '../calendar/index.ts';
import type { Coverage } from './coverage.ts';

/** The dimension by which figures of several feeds are told apart. */
export const FEED = 'feed';

/** One feed of a dataset that spans several, with the days on which the whole is not known without it. */
export interface FeedPart {
  /** Its name: its label in the dimension {@link FEED}. */
  feed: string;
  firstDay: CivilDate;
  /** The last day that it brought, of one that brings no more. */
  lastDay: CivilDate | null;
  /**
   * First and last day on which it has to be known, both inclusive; null without an end. Outside of them it has nothing:
   * it began then, it ended, or another feed of the client has it (SEMANTICS §4).
   */
  from: CivilDate | null;
  to: CivilDate | null;
  covered: Coverage;
}
