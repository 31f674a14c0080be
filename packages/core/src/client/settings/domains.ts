import { z } from 'zod';
import { splitDomains } from '../guard.ts';
import { defineSetting } from '../setting.ts';

/** Domains of the client's own mail addresses, with blanks between them; the first contact's where none is named. */
export const domains = defineSetting<string>({
  label: 'Email domains',
  hint: 'We ask before sending to any other domain',
  field: { kind: 'text', placeholder: 'place.example shop.example' },
  schema: z
    .string()
    .trim()
    .max(400, 'Maximum 400 characters.')
    .refine(
      (text) => splitDomains(text).every((d) => /^[^\s@/]+\.[^\s@/.]{2,}$/.test(d)),
      'Enter domains like place.example.',
    )
    .default(''),
  otherwise: '',
});
