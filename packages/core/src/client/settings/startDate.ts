import { clampDate } from '../../calendar/index.ts';
import { civilDate } from '../../report/specs.ts';
import { defineSetting } from '../setting.ts';

/** The day from which on the agency works for it, `YYYY-MM-DD`. */
export const startDate = defineSetting<string>({
  label: 'Client since',
  field: { kind: 'date' },
  schema: civilDate,
  otherwise: '2020-01-01',
  mend: clampDate,
});
