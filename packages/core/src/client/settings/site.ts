import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** A host or an address of the web; empty when there is none. Feeds are matched with clients by it. */
export const site = defineSetting<string>({
  label: 'Website',
  hint: 'Accounts of services are matched with the client by it',
  field: { kind: 'text', placeholder: 'place.example' },
  schema: z
    .string()
    .trim()
    .max(200, 'Keep it to 200 characters.')
    .refine(
      (s) => s === '' || /^(https?:\/\/)?[^\s/@]+\.[^\s/@]+(\/\S*)?$/.test(s),
      'This is no web address: it should look like place.example.',
    )
    .default(''),
  otherwise: '',
});
