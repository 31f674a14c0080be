import {
  type CalendarRules,
  type ComparisonSpec,
  type PeriodSpec,
  type Range,
  resolveComparison,
  resolvePeriod,
} from '../calendar/index.ts';
import type { Dates } from './blocks/block.ts';
import { blocksOf, type ReportDocument } from './document.ts';

/** What of a client its dates depend on. */
export interface DatesOfClient extends CalendarRules {
  /** The first day of the work for it. */
  startDate: string;
}

/**
 * The dates that a period and comparison mean for a client as of a day; no comparison where there is none to make
 * (SEMANTICS §2, §3).
 */
export function settleDates(
  period: PeriodSpec,
  comparison: ComparisonSpec,
  asOf: string,
  client: DatesOfClient,
): Dates & { period: Range; compared: Range | null } {
  const found = resolveComparison(comparison, period, asOf, client.startDate, client);
  return {
    period: resolvePeriod(period, asOf, client),
    compared: found.kind === 'range' ? found.range : null,
    ...(found.kind === 'ranges' && { yardstick: { kind: 'typical', ranges: found.ranges } as const }),
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
