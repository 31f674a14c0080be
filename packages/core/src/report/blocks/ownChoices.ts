import { z } from 'zod';
import { MOST_COLUMNS } from '../../bounds/index.ts';
import { filterSchema } from '../filterSchema.ts';
import { comparisonSpec, periodSpec } from '../specs.ts';

/** Columns of a page, and the fewest of them that a block may have. */
export const COLUMNS = MOST_COLUMNS;
export const LEAST_COLUMNS = 2;

/**
 * What every block may say of itself; what it leaves out is the report's. In edits, null takes a choice away again.
 */
export const ownChoices = {
  /** Of the page's twelve; left out, it shares evenly what its neighbours leave. */
  columns: z
    .int()
    .min(LEAST_COLUMNS, `A block has at least ${LEAST_COLUMNS} columns.`)
    .max(COLUMNS, `A page has ${COLUMNS} columns.`)
    .optional(),
  /** Left out: always. `withFigures`: only where something of what it asks for is known and not 0. */
  when: z.enum(['withFigures', 'never']).optional(),
  period: periodSpec.optional(),
  comparison: comparisonSpec.optional(),
  /** In place of the report's; empty: everything counts. */
  filter: filterSchema.optional(),
};

export type OwnChoices = { [K in keyof typeof ownChoices]?: z.output<(typeof ownChoices)[K]> };
