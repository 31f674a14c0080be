import { z } from 'zod';
import { defineSetting } from '../setting.ts';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** The first day of its weeks, 1 for Monday to 7 (ISO 8601). */
export const weekStart = defineSetting<number>({
  label: 'First day of the week',
  field: { kind: 'choice', options: DAYS.map((label, i) => ({ value: i + 1, label })), many: false },
  schema: z.int().min(1).max(7),
  otherwise: 1,
});
