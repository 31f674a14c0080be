import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** What the agency calls the client elsewhere: rows that are imported find it by that, whatever its name has become. */
export const reference = defineSetting<string>({
  label: 'Your number or id',
  hint: 'Used to match imported rows; readers don’t see it',
  field: { kind: 'text', placeholder: 'K-1024' },
  schema: z.string().trim().max(60, 'Maximum 60 characters.').default(''),
  otherwise: '',
});
