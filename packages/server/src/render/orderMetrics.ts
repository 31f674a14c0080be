import { assume, type MetricSettings } from '@chronicon/core/figures';
import type { DrawOrder } from '@chronicon/core/page';
import { type Assumed, assumedBy, type ReportDocument } from '@chronicon/core/report';

/** A client's metrics as a report assumes them to be, and as it does by default where that is another thing. */
export function orderMetrics(
  metrics: MetricSettings,
  { assumptions }: ReportDocument,
  set: Assumed = {},
): Pick<DrawOrder, 'metrics' | 'usual'> {
  const now = assumedBy(assumptions, set);
  const usual = assumedBy(assumptions);
  const differs = Object.keys(usual).some((key) => now[key] !== usual[key]);
  return { metrics: assume(metrics, now), ...(differs && { usual: assume(metrics, usual) }) };
}
