import { z } from 'zod';

/** A sheet of paper: its size, and which way it lies. */
export const paperSpec = z.strictObject({
  size: z.enum(['a4', 'letter']),
  orientation: z.enum(['portrait', 'landscape']),
});
export type Paper = z.infer<typeof paperSpec>;

/** What stands where nobody says anything. */
export const A4: Paper = { size: 'a4', orientation: 'portrait' };

/** What a page, a report, a client or the agency says of the paper; what it leaves out is as it is one step above. */
export const paperChoice = paperSpec.partial();
export type PaperChoice = z.infer<typeof paperChoice>;

/** The same where a setting says nothing by an empty text. */
export interface PaperSaid {
  size?: string | undefined;
  orientation?: string | undefined;
}

/** The paper of a page, from what is said nearest to it to what is said farthest away; else A4 upright. */
export const settlePaper = (...said: readonly (PaperSaid | undefined)[]): Paper => ({
  size: said.find((c) => c?.size)?.size === 'letter' ? 'letter' : 'a4',
  orientation: said.find((c) => c?.orientation)?.orientation === 'landscape' ? 'landscape' : 'portrait',
});
