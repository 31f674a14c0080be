import { z } from 'zod';
import { LOCALES } from '../../words/index.ts';
import { defineSetting } from '../setting.ts';

/** The locale of reports and mails (BCP 47), one of a language that there are words of. */
export const language = defineSetting<string>({
  label: 'Report language',
  field: { kind: 'choice', options: LOCALES, many: false },
  schema: z.string().refine((l) => LOCALES.some((x) => x.value === l), 'This language isn’t available yet.'),
  otherwise: 'en-GB',
});
