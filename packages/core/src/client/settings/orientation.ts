import { z } from 'zod';
import { defineSetting } from '../setting.ts';

/** Which way its reports' sheets lie; empty for what the agency has. */
export const orientation = defineSetting<string>({
  label: 'Orientation',
  field: {
    kind: 'choice',
    options: [
      { value: '', label: 'Use agency default' },
      { value: 'portrait', label: 'Upright' },
      { value: 'landscape', label: 'Across' },
    ],
    many: false,
  },
  schema: z.enum(['', 'portrait', 'landscape'] as string[]).default(''),
  otherwise: '',
});
