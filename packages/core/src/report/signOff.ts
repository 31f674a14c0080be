import { z } from 'zod';
import { wallTime } from './specs.ts';

/** The member who is asked; null for the client's manager. */
const asks = z.string().max(60).nullable().default(null);

/**
 * Whether a person looks at an edition before it goes: it goes by itself; it waits for them however long; or until a
 * time of the day on which it runs, by the schedule's clock, and then goes.
 */
export const signOffSpec = z.discriminatedUnion('rule', [
  z.strictObject({ rule: z.literal('none') }),
  z.strictObject({ rule: z.literal('first'), asks }),
  z.strictObject({ rule: z.literal('until'), until: wallTime, asks }),
]);
export type SignOff = z.infer<typeof signOffSpec>;

/** Minutes before the send time at which collecting data and drawing begin: a person wants time to read (SEMANTICS §10). */
export const leadOf = (signOff: SignOff): number => (signOff.rule === 'none' ? 3 * 60 : 24 * 60);
