import { z } from 'zod';
import { blockSchema } from '../report/blocks/registry.ts';
import { EVERYONE, route } from './route.ts';

const asked = { key: z.string(), label: z.string(), hint: z.string().optional() };

/** A choice of a kind of block, with the limits that the route holds, too. */
const field = z.discriminatedUnion('kind', [
  z.object({ ...asked, kind: z.literal('text'), most: z.int(), required: z.string().optional() }),
  z.object({ ...asked, kind: z.literal('metric'), divides: z.boolean(), adds: z.boolean() }),
  z.object({
    ...asked,
    kind: z.literal('choice'),
    options: z.array(z.object({ value: z.string(), label: z.string() })).readonly(),
  }),
  z.object({ ...asked, kind: z.literal('metrics'), least: z.int(), most: z.int() }),
  z.object({ ...asked, kind: z.literal('dimension'), none: z.string().optional() }),
  z.object({ ...asked, kind: z.literal('count'), least: z.int(), most: z.int() }),
  z.object({ ...asked, kind: z.literal('picture') }),
  z.object({ ...asked, kind: z.literal('commentary'), most: z.int() }),
]);
export type BlockField = z.infer<typeof field>;

/** A kind of block as a screen offers it. */
const blockOffer = z.object({
  kind: z.string(),
  label: z.string(),
  /** The field that says what a block is about; null for none. */
  about: z.string().nullable(),
  fields: z.array(field),
  /** Whether it shows figures, by dates and a filter. */
  reads: z.boolean(),
  /** Whether it holds them against other dates. */
  compares: z.boolean(),
  /** Whether a person may write for a period: over what it says, or lines before it. */
  mayBeWritten: z.union([z.literal(false), z.enum(['over', 'lines'])]),
  /** A new one, of what the client’s feeds bring and in the words of its reports; its id is the asker’s to give. */
  fresh: blockSchema,
});
export type BlockOffer = z.infer<typeof blockOffer>;

export const blockRoutes = {
  'GET /api/clients/:client/blocks': route({
    about: 'The kinds of blocks available to reports of this client, with their options.',
    roles: EVERYONE,
    reply: z.array(blockOffer),
  }),
};
