import { z } from 'zod';
import { defineSetting } from '../setting.ts';

const MONTHS = 'January, February, March, April, May, June, July, August, September, October, November, December'.split(
  ', ',
);

/** The month in which its fiscal year begins, from 1. */
export const fiscalStart = defineSetting<number>({
  label: 'Fiscal year starts in',
  field: { kind: 'choice', options: MONTHS.map((label, i) => ({ value: i + 1, label })), many: false },
  schema: z.int().min(1).max(12),
  otherwise: 1,
});
