import { z } from 'zod';
import { defineSetting } from '../setting.ts';

const CODES = Intl.supportedValuesOf('currency');

/** ISO 4217 codes that Intl knows how to write. */
export const currency = defineSetting<string>({
  label: 'Currency',
  hint: 'Currency of all amounts',
  field: { kind: 'choice', options: CODES.map((value) => ({ value, label: value })), many: true },
  schema: z.string().refine((c) => CODES.includes(c), 'Unknown currency: use three letters, e.g. EUR.'),
  otherwise: 'GBP',
});
