import { z } from 'zod';
import { defineSetting } from '../setting.ts';

const CODES = Intl.supportedValuesOf('currency');

/** ISO 4217 codes that Intl knows how to write. */
export const currency = defineSetting<string>({
  label: 'Currency',
  hint: 'All its money is in this currency',
  field: { kind: 'choice', options: CODES.map((value) => ({ value, label: value })), many: true },
  schema: z.string().refine((c) => CODES.includes(c), 'There is no such currency; give three letters, as EUR.'),
  otherwise: 'GBP',
});
