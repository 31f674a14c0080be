import {
  type CalendarRules,
  type ComparisonSpec,
  type PeriodSpec,
  resolveComparison,
  resolvePeriod,
} from '../calendar/index.ts';
import { type Exclusion, excludeDays, excludeFromUsual } from '../figures/index.ts';
import type { Dates } from './blocks/block.ts';
import { blocksOf, type ReportDocument } from './document.ts';

/** What of a client its dates depend on. */
export interface DatesOfClient extends CalendarRules {
  /** The first day of the work for it. */
  startDate: string;
  /** Days that are left out of its figures; none where it is left out. */
  excluded?: readonly Exclusion[] | undefined;
}

/**
 * The dates that a period and comparison mean for a client as of a day, without the days that are excluded on either side; no
 * comparison where there is none to make (SEMANTICS §2, §3, §6).
 */
export function settleDates(
  period: PeriodSpec,
  comparison: ComparisonSpec,
  asOf: string,
  client: DatesOfClient,
): Dates {
  const found = resolveComparison(comparison, period, asOf, client.startDate, client);
  const compared = found.kind === 'range' ? found.range : null;
  const { excluded = [] } = client;
  const dates = excludeDays(resolvePeriod(period, asOf, client), compared, excluded);
  const usual = found.kind === 'ranges' && excludeFromUsual(dates.period, found.ranges, excluded);
  return {
    ...dates,
    ...(usual && { yardstick: { kind: 'typical', ranges: usual } as const }),
    ...(comparison.kind === 'target' && { yardstick: { kind: 'target' } as const }),
  };
}

/**
 * The dates of a document's pages as a schedule or a person asks for them, and of those of its blocks that say other ones.
 */
export function settleReport(
  document: ReportDocument,
  asked: { period: PeriodSpec; comparison: ComparisonSpec },
  asOf: string,
  client: DatesOfClient,
) {
  const own = blocksOf(document).flatMap((block) => {
    if (!block.period && !block.comparison) return [];
    const dates = settleDates(block.period ?? asked.period, block.comparison ?? asked.comparison, asOf, client);
    return [[block.id, dates] as const];
  });
  return { ...settleDates(asked.period, asked.comparison, asOf, client), own: Object.fromEntries(own), at: asOf };
}
