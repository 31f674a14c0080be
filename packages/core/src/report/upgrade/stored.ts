import type { z } from 'zod';

/** A stored text that no version of this product has written, or a newer one than this. */
export class StoredError extends Error {}

/** Faults of measure, not of kind: what was stored under other bounds stays as it is. */
const OF_MEASURE = new Set(['too_big', 'too_small', 'custom', 'invalid_format', 'not_multiple_of']);

/** @throws StoredError for a text that is not JSON */
export function parseStored(text: string, what: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new StoredError(`${what} is stored as something that is not JSON`);
  }
}

/**
 * A stored value by the schema of today. What is beyond today's bounds alone is taken as it is: whoever could store it
 * has to be able to open it.
 * @throws StoredError with the path of the first thing that is of another kind
 */
export function readAs<T>(schema: z.ZodType<T>, value: unknown, what: string): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const fault = parsed.error.issues.find((i) => !OF_MEASURE.has(i.code));
  if (fault) throw new StoredError(`${what} cannot be read at ${fault.path.join('.') || 'its root'}: ${fault.message}`);
  return value as T;
}
