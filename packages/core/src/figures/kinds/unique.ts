import type { Filter } from '../columns.ts';
import type { Aggregation } from '../metric.ts';
import { known, na } from '../value.ts';
import { type Kind, withCoverage } from './kind.ts';

/** Filters as sets: the order of values and of dimensions does not matter. */
const keyOfFilter = (filter: Filter): string =>
  JSON.stringify(
    Object.entries(filter)
      .map(([d, values]) => [d, [...values].sort()] as const)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );

/** Only as the feed reported it for exactly this range and filter; never added up (SEMANTICS §4). */
export const unique: Kind<Extract<Aggregation, { kind: 'unique' }>> = {
  measures: (a) => [a.measure],
  value: (a, ask) =>
    withCoverage(ask, () => {
      const ofRange = (ask.dataset.reported ?? []).filter(
        (r) => r.measure === a.measure && r.from === ask.range.from && r.to === ask.range.to,
      );
      const exact = ofRange.find((r) => keyOfFilter(r.filter) === keyOfFilter(ask.filter));
      if (exact) return known(exact.value);
      return na(ofRange.length > 0 ? 'filtered-out-of-feed' : 'not-additive');
    }),
  typical: 'mean',
};
