import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** Whose holidays move its schedules: the id of a calendar, or nothing for the agency's own. */
export const calendar = defineSetting<string>({
  label: 'Holidays',
  hint: 'Used by working-day schedules',
  field: { kind: 'choice', options: [], many: false, from: 'calendars' },
  schema: z.string().max(40).default(''),
  otherwise: '',
});
