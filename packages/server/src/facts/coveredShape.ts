import type { CivilDate } from '@chronicon/core/calendar';
import type { Coverage, DatasetShape } from '@chronicon/core/figures';
import type { FeedPast } from './feedPast.ts';

/** A dataset with the days that were delivered. */
export interface CoveredShape extends DatasetShape {
  feedId: string;
  /** Its name at the feed. */
  key: string;
  covered: Coverage;
  /** The datasets of several feeds that it is read from; left out when it is one of its own. */
  members?: readonly Member[];
}

/** A dataset with what it needs to be read together with its like of other feeds. */
export interface Member extends CoveredShape {
  family: string;
  feedName: string;
  /** The last day that a removed feed brought. */
  ended: CivilDate | null;
  past: FeedPast;
  /** The last day whose rows count, of one that another feed continues; null: all. */
  until: CivilDate | null;
}
