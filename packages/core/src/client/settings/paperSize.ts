import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** The size of its reports' sheets; empty for what the agency has. */
export const paperSize = defineSetting<string>({
  label: 'Paper size',
  field: {
    kind: 'choice',
    options: [
      { value: '', label: 'Use agency default' },
      { value: 'a4', label: 'A4' },
      { value: 'letter', label: 'Letter' },
    ],
    many: false,
  },
  schema: z.enum(['', 'a4', 'letter'] as string[]).default(''),
  otherwise: '',
});
