import { z } from 'zod';
import { isObjectName } from '../../bounds/index.ts';
import { type CivilDate, isCivilDate } from '../../calendar/index.ts';
import { DATE_STYLES, NUMBER_STYLES } from './styles.ts';

const key = z
  .string()
  .regex(/^[a-zA-Z][A-Za-z0-9]{0,39}$/, 'Start with a letter; letters and digits only, max 40.')
  .refine((k) => !isObjectName(k), 'Choose another name: this one is taken.');

export const columnUse = z.discriminatedUnion('as', [
  z.object({ as: z.literal('date') }),
  z.object({ as: z.literal('dimension'), key }),
  /** `scale`: the power of ten by which its numbers are multiplied, as −6 for millionths. */
  z.object({
    as: z.literal('measure'),
    key,
    scale: z.int().min(-9).max(9).optional(),
    /** The currency that its heading names, from which it is converted by the rates of the file. */
    currency: z.string().min(1).max(6).optional(),
  }),
  /** It names the currency of its row's money. */
  z.object({ as: z.literal('currency') }),
  z.object({ as: z.literal('skip') }),
]);
export type ColumnUse = z.infer<typeof columnUse>;

const day = z.string().refine(isCivilDate, 'Enter a date like 2026-10-03.');

/** What one unit of a currency, as the file names it, comes to in the client's on the days of a range, both ends inclusive. */
export const fileRate = z
  .object({
    currency: z.string().min(1).max(6),
    from: day,
    to: day,
    rate: z.number('Enter a rate.').positive('Enter a rate above 0.').max(1e9, 'Invalid rate.'),
  })
  .refine((r) => r.from <= r.to, { message: 'The end date is before the start date.', path: ['to'] });
export type FileRate = z.infer<typeof fileRate>;

/** How a file's columns become facts; kept with the feed, so that the next file of the same shape is read alike. */
export const fileMapping = z.object({
  dates: z.enum(DATE_STYLES),
  numbers: z.enum(NUMBER_STYLES),
  /** What days of the file's range mean that no row speaks of: nothing happened, or nobody knows. */
  gaps: z.enum(['zero', 'missing']),
  /** What the days of rows that were set aside are: not known (when left out), or as if those rows were not there. */
  aside: z.enum(['unknown', 'none']).optional(),
  /** What rows of totals are: left out (when not said), or rows like any other. */
  totals: z.enum(['left-out', 'rows']).optional(),
  /**
   * What rows in another currency than the client's are: their day is not known (when left out), they are left out,
   * converted by the rates, or rows of feeds of their own.
   */
  otherCurrency: z.enum(['unknown', 'left-out', 'converted', 'split']).optional(),
  /** By what money of another currency is multiplied. */
  rates: z.array(fileRate).max(400).optional(),
  /** Currencies whose rows have a feed of their own. */
  splitInto: z.array(z.string().min(1).max(6)).max(20).optional(),
  /** Of such a feed: its rows are those in this currency, taken as they stand; all others are left out. */
  onlyCurrency: z.string().min(1).max(6).optional(),
  /** Columns whose heading names another currency; a person says that they are in the client's all the same. */
  ownMoney: z.array(z.string()).max(200).optional(),
  /** By the column's name. */
  columns: z.record(z.string(), columnUse),
});
export type FileMapping = z.infer<typeof fileMapping>;

/** What keeps a mapping from being used, by the column at fault (empty for the whole); null when nothing does. */
export function mappingFault(mapping: FileMapping): { column: string; message: string } | null {
  const uses = Object.entries(mapping.columns);
  const dates = uses.filter(([, u]) => u.as === 'date');
  if (dates.length === 0) return { column: '', message: 'Choose the date column.' };
  if (dates.length > 1) return { column: dates[1]![0], message: 'Only one column can be the date.' };
  const currencies = uses.filter(([, u]) => u.as === 'currency');
  if (currencies.length > 1) return { column: currencies[1]![0], message: 'Only one column can name the currency.' };
  const twice = doubleRate(mapping.rates ?? []);
  if (twice) return { column: '', message: `There are two rates for ${twice.currency} on ${twice.day}.` };
  const seen = new Map<string, string>();
  for (const [column, use] of uses) {
    if (use.as !== 'dimension' && use.as !== 'measure') continue;
    if (use.key === 'day' || use.key === 'feed')
      return { column, message: `“${use.key}” is taken. Choose another name.` };
    const other = seen.get(use.key);
    if (other !== undefined) return { column, message: `Already mapped to “${other}”.` };
    seen.set(use.key, column);
  }
  if (!uses.some(([, u]) => u.as === 'measure')) {
    return { column: '', message: 'Choose at least one data column.' };
  }
  return null;
}

/** A day on which a currency has two rates; null where each has one at most. */
function doubleRate(rates: readonly FileRate[]): { currency: string; day: CivilDate } | null {
  for (const [i, a] of rates.entries()) {
    const b = rates.slice(i + 1).find((r) => r.currency === a.currency && r.from <= a.to && r.to >= a.from);
    if (b) return { currency: a.currency, day: a.from > b.from ? a.from : b.from };
  }
  return null;
}

/** What one unit of a currency comes to on a day; null where nobody said. */
export const rateOn = ({ rates = [] }: FileMapping, currency: string, day: CivilDate): number | null =>
  rates.find((r) => r.currency === currency && r.from <= day && day <= r.to)?.rate ?? null;

/** Dimensions and measures in the order of the columns. */
export function shapeOf(mapping: FileMapping): { dimensions: string[]; measures: string[] } {
  const keys = (as: 'dimension' | 'measure') =>
    Object.values(mapping.columns).flatMap((u) => (u.as === as ? [u.key] : []));
  return { dimensions: keys('dimension'), measures: keys('measure') };
}
