import { z } from 'zod';
import { isObjectName, MOST_GROUPS } from '../bounds/index.ts';
import { DIMENSION_KEYS, type FilterPart } from '../figures/index.ts';
import { filterSchema } from './filterSchema.ts';
import { scheduleReaders } from './readers.ts';

/** Readers who get an edition of their own: that of one value of a dimension. */
export const readersGroup = z.strictObject({
  /** Stays the same whatever the group is called or holds: part of its editions' identity. */
  id: z
    .string()
    .min(1)
    .max(60)
    .refine((id) => !isObjectName(id)),
  /** The value as the feeds have it. */
  value: z.string().min(1, 'Choose a value.').max(200, 'Maximum 200 characters.'),
  /** What its edition counts beside that. */
  filter: filterSchema.default([]),
  readers: scheduleReaders.default([]),
  /** A pattern of its own for the file; empty: as the schedule says. */
  fileName: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
  /** What its mails begin with, before the message; empty: nothing. */
  greeting: z.string().trim().max(200, 'Maximum 200 characters.').default(''),
});
export type ReadersGroup = z.infer<typeof readersGroup>;

/** One report for many groups of readers: an edition for each of some values of a dimension. */
export const readersGroups = z.strictObject({
  /** The dimension whose values have a group each. */
  by: z.string().refine((d) => (DIMENSION_KEYS as readonly string[]).includes(d), 'Dimension not found.'),
  groups: z
    .array(readersGroup)
    .min(1, 'Choose at least one value.')
    .max(MOST_GROUPS, `A schedule has at most ${MOST_GROUPS} groups.`)
    .refine((g) => new Set(g.map((x) => x.id)).size === g.length, 'A group is listed twice.')
    .refine((g) => new Set(g.map((x) => x.value)).size === g.length, 'Each value has one group.'),
  /** Values that are known and get no edition: nobody is told of them. */
  without: z.array(z.string().max(200)).max(MOST_GROUPS).default([]),
});
export type ReadersGroups = z.infer<typeof readersGroups>;

/** What the edition of a group counts: its value alone, and what it says beside. */
export const filterOfGroup = ({ by }: Pick<ReadersGroups, 'by'>, group: ReadersGroup): FilterPart[] => [
  { dimension: by, how: 'only', values: [group.value] },
  ...group.filter,
];
