import { z } from 'zod';
import { splitDomains } from '../guard.ts';
import { defineSetting } from '../setting.ts';

/** Domains of the client's own mail addresses, with blanks between them; the first contact's where none is named. */
export const domains = defineSetting<string>({
  label: 'Mail domains',
  hint: 'An address at any other domain is asked about once before anything is sent to it',
  field: { kind: 'text', placeholder: 'place.example shop.example' },
  schema: z
    .string()
    .trim()
    .max(400, 'Keep it to 400 characters.')
    .refine(
      (text) => splitDomains(text).every((d) => /^[^\s@/]+\.[^\s@/.]{2,}$/.test(d)),
      'These are no domains: they should look like place.example.',
    )
    .default(''),
  otherwise: '',
});
