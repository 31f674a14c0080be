import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** A host or an address of the web; empty when there is none. Feeds are matched with clients by it. */
export const site = defineSetting<string>({
  label: 'Website',
  hint: 'Used to match service accounts to this client',
  field: { kind: 'text', placeholder: 'place.example' },
  schema: z
    .string()
    .trim()
    .max(200, 'Maximum 200 characters.')
    .refine(
      (s) => s === '' || /^(https?:\/\/)?[^\s/@]+\.[^\s/@]+(\/\S*)?$/.test(s),
      'Enter a web address like place.example.',
    )
    .default(''),
  otherwise: '',
});
