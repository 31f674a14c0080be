import type { MetricUnit } from '../metric.ts';

/** What a formula may be made from: each metric's unit, and its formula when it is derived itself. */
export type KnownMetrics = Readonly<Record<string, { unit: MetricUnit; formula?: string | undefined }>>;
