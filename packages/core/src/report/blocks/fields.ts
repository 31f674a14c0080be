import { z } from 'zod';
import { isObjectName } from '../../bounds/index.ts';
import { DIMENSION_KEYS, type MetricBook } from '../../figures/index.ts';
import type { BlockFault, FieldShape } from './fieldShape.ts';

const KEY = /^[A-Za-z_][A-Za-z0-9_]{0,60}$/;

/** The key of a metric; whether a client has it is told by its book. */
export const metricKey = z
  .string()
  .regex(KEY, 'Metric not found.')
  .refine((k) => !isObjectName(k), 'Metric not found.');

type Without<T> = T extends unknown ? Omit<T, 'key'> : never;

/** A choice of a kind: what may be stored for it, and how it is asked for; null where another field asks for both. */
export interface Field<S extends z.ZodType = z.ZodType> {
  schema: S;
  shape: Without<FieldShape> | null;
}

const plural = (n: number, one: string, many: string): string => (n === 1 ? `one ${one}` : `${n} ${many}`);

/** A line of text; `required` is what is said where nothing stands. */
export function textField(options: { label: string; hint?: string; most: number; required?: string }) {
  const { label, hint, most, required } = options;
  const bound = z.string().max(most, `Maximum ${most} characters.`);
  const schema = required === undefined ? bound : bound.trim().min(1, required);
  return { schema, shape: { kind: 'text', label, hint, most, required } } satisfies Field;
}

/** The title of a block; empty, it is named after what it shows, in the report's language. */
export const titleField = textField({ label: 'Title', hint: 'Leave empty for an automatic title', most: 120 });

export const metricField = ({ label = 'Metric', divides = false, adds = false } = {}) =>
  ({ schema: metricKey, shape: { kind: 'metric', label, divides, adds } }) satisfies Field;

/** One of a few, the first of them by default. */
export const choiceField = <const V extends string>(shape: {
  label: string;
  options: readonly { value: V; label: string }[];
}) =>
  ({
    schema: z.enum(shape.options.map((o) => o.value) as [V, ...V[]]),
    shape: { kind: 'choice', ...shape },
  }) satisfies Field;

/** One of a few that documents of before do not name: then it is the first of them. */
export const laterChoiceField = <const V extends string>(shape: {
  label: string;
  options: readonly { value: V; label: string }[];
}) =>
  ({
    schema: z.enum(shape.options.map((o) => o.value) as [V, ...V[]]).optional(),
    shape: { kind: 'choice', ...shape },
  }) satisfies Field;

export const metricsField = ({
  label = 'Metrics',
  hint,
  least = 1,
  most,
}: {
  label?: string;
  hint?: string;
  least?: number;
  most: number;
}) =>
  ({
    schema: z
      .array(metricKey)
      .min(least, `Choose at least ${plural(least, 'metric', 'metrics')}.`)
      .max(most, `Choose at most ${plural(most, 'metric', 'metrics')}.`),
    shape: { kind: 'metrics', label, hint, least, most },
  }) satisfies Field;

export const dimensionField = ({ label = 'Broken down by' } = {}) =>
  ({ schema: z.enum(DIMENSION_KEYS), shape: { kind: 'dimension', label } }) satisfies Field;

/** A dimension that may be left out; `none` says what stands then. */
export const laterDimensionField = ({ label, none }: { label: string; none: string }) =>
  ({ schema: z.enum(DIMENSION_KEYS).optional(), shape: { kind: 'dimension', label, none } }) satisfies Field;

/** Further metrics; documents of before have none. */
export const laterMetricsField = ({ label, hint, most }: { label: string; hint?: string; most: number }) =>
  ({
    schema: z
      .array(metricKey)
      .max(most, `Choose at most ${plural(most, 'metric', 'metrics')}.`)
      .optional(),
    shape: { kind: 'metrics', label, hint, least: 0, most },
  }) satisfies Field;

export const countField = ({ label, most }: { label: string; most: number }) =>
  ({
    schema: z.int().min(1, 'Choose at least 1.').max(most, `Choose at most ${most}.`),
    shape: { kind: 'count', label, least: 1, most },
  }) satisfies Field;

/** A fault for each choice of metrics that the client's book cannot answer. */
export function fieldFaults(
  fields: readonly FieldShape[],
  block: object,
  book: MetricBook,
  can: { divide(key: string): boolean; add(key: string): boolean },
): BlockFault[] {
  return fields.flatMap((field): BlockFault[] => {
    if (field.kind !== 'metric' && field.kind !== 'metrics') return [];
    const chosen = (block as Record<string, string | readonly string[]>)[field.key] ?? [];
    const keys = typeof chosen === 'string' ? [chosen] : chosen;
    const unknown = keys.filter((key) => !book.has(key));
    if (unknown.length > 0) return unknown.map((key) => ({ field: field.key, message: `Unknown metric: ${key}.` }));
    if (field.kind === 'metrics') return [];
    if (field.divides && !keys.every(can.divide))
      return [{ field: field.key, message: 'This metric can’t be broken down by cause. Choose another.' }];
    if (field.adds && !keys.every(can.add))
      return [{ field: field.key, message: 'This metric’s parts don’t add up to a whole. Choose another.' }];
    return [];
  });
}
