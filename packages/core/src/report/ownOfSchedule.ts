import type { FilterPart } from '../figures/index.ts';
import type { Assumed } from './assumptions.ts';

/** What a schedule has of its own beside its dates; what is empty is as the report has it. */
export interface OwnOfSchedule {
  /** Assumptions that are set anew, by key. */
  assumed?: Assumed | undefined;
  /** What alone is counted, on every page and in the mail: beside the filters of the report and its blocks. */
  filter?: FilterPart[] | undefined;
}

/** The same, with what is empty left out: an edition of a schedule without any is made of the same bytes as before. */
export const ownOfSchedule = ({ assumed = {}, filter = [] }: OwnOfSchedule): OwnOfSchedule => ({
  ...(Object.keys(assumed).length > 0 && { assumed }),
  ...(filter.length > 0 && { filter }),
});
