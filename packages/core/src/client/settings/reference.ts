import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** What the agency calls the client elsewhere: rows that are imported find it by that, whatever its name has become. */
export const reference = defineSetting<string>({
  label: 'Your number or id',
  hint: 'Imported rows find the client by it; no reader sees it',
  field: { kind: 'text', placeholder: 'K-1024' },
  schema: z.string().trim().max(60, 'Keep it to 60 characters.').default(''),
  otherwise: '',
});
