import {
  type ComparisonSpec,
  type PeriodSpec,
  type Range,
  resolveComparison,
  resolvePeriod,
} from '@chronicon/core/calendar';
import type { Yardstick } from '@chronicon/core/report';
import type { StoredClient } from '../store/clients.ts';

/** The dates that a period and comparison mean for a client as of a day; no comparison where there is none to make. */
export function settleDates(
  period: PeriodSpec,
  comparison: ComparisonSpec,
  asOf: string,
  client: Pick<StoredClient, 'weekStart' | 'fiscalStart' | 'startDate'>,
): { period: Range; compared: Range | null; yardstick?: Yardstick } {
  const found = resolveComparison(comparison, period, asOf, client.startDate, client);
  return {
    period: resolvePeriod(period, asOf, client),
    compared: found.kind === 'range' ? found.range : null,
    ...(found.kind === 'ranges' && { yardstick: { kind: 'typical', ranges: found.ranges } as const }),
    ...(comparison.kind === 'target' && { yardstick: { kind: 'target' } as const }),
  };
}
