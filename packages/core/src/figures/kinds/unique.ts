import { filterKey } from '../filter.ts';
import type { Aggregation } from '../metric.ts';
import { known, na } from '../value.ts';
import { type Kind, withCoverage } from './kind.ts';

/** Only as the feed reported it for exactly this range and filter; never added up (SEMANTICS §4). */
export const unique: Kind<Extract<Aggregation, { kind: 'unique' }>> = {
  measures: (a) => [a.measure],
  value: (a, ask) =>
    withCoverage(ask, () => {
      // Nobody counted the people of all the days but one.
      if (ask.range.without) return na('not-additive');
      const ofRange = (ask.dataset.reported ?? []).filter(
        (r) => r.measure === a.measure && r.from === ask.range.from && r.to === ask.range.to,
      );
      const exact = ofRange.find((r) => filterKey(r.filter) === filterKey(ask.filter));
      if (exact) return known(exact.value);
      return na(ofRange.length > 0 ? 'filtered-out-of-feed' : 'not-additive');
    }),
  typical: 'mean',
};
