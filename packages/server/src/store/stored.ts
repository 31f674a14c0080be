import { z } from 'zod';
import { Refusal } from '../platform/refusal.ts';
import { readOnce } from './parsed.ts';

/**
 * Something that is stored cannot be read: another program wrote it, or a disk lost a part. Trying again does not help, so whoever asked
 * for it is told what does.
 */
export class DamagedValue extends Refusal {
  constructor(
    readonly what: string,
    detail: string,
    override readonly cause: unknown,
  ) {
    super(
      500,
      `The data is damaged: ${what} cannot be read (${detail}). Ask whoever runs the server to restore a copy.`,
    );
  }
}

/**
 * A reader of one kind of stored JSON, by its schema.
 * @param what it is, as it stands in an error
 * @returns reads a text. @throws DamagedValue, which names what is wrong and where
 * @example const setupIn = stored(fileSetup, 'how a feed of files is read'); setupIn(row.setup)
 */
export function stored<T>(schema: z.ZodType<T>, what: string): (text: string) => T {
  return (text) => {
    let json: unknown;
    try {
      json = JSON.parse(text);
    } catch (cause) {
      throw new DamagedValue(what, 'no JSON', cause);
    }
    const read = schema.safeParse(json);
    if (read.success) return read.data;
    const [issue] = read.error.issues;
    throw new DamagedValue(what, issue!.path.join('.') || 'the whole of it', read.error);
  };
}

/** The same for what many rows repeat: each text is read once, and nobody may change what it said. */
export function storedOnce<T>(schema: z.ZodType<T>, what: string): (text: string) => T {
  const read = stored(schema, what);
  const once = readOnce<{ value: T }>(500_000, (text) => ({ value: read(text) }));
  return (text) => once(text, what).value;
}

/** Names, as dimensions or measures. */
export const storedNames = storedOnce(z.array(z.string()), 'a list of names');

/** Narrower by the labels of some dimensions (`PlainFilter` of the figures). */
export const plainFilter = z.record(z.string(), z.array(z.string()));
