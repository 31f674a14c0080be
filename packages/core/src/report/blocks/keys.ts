import { z } from 'zod';
import { DIMENSION_KEYS, type MetricBook } from '../../figures/index.ts';
import type { BlockFault } from './sheet.ts';

const KEY = /^[A-Za-z_][A-Za-z0-9_]{0,60}$/;

/** The key of a metric; whether a client has it is told by its book. */
export const metricKey = z.string().regex(KEY, 'There is no such metric.');
export const dimensionKey = z.enum(DIMENSION_KEYS);

/** A fault for each metric that the book does not know. */
export const unknownMetrics = (metrics: readonly string[], field: string, book: MetricBook): BlockFault[] =>
  metrics.filter((key) => !book.has(key)).map((key) => ({ field, message: `There is no metric ${key}.` }));
