import type { CivilDate } from '../calendar/index.ts';
import { listDays } from './dayLists.ts';
import type { Formatter } from './formatter.ts';
import { fill } from './said.ts';

/** Of a figure that leaves days out: `without 19 Oct`; empty for none. */
export const withoutDaysWords = (days: readonly CivilDate[], format: Formatter): string =>
  days.length === 0 ? '' : fill(format.words.without, { dates: listDays(days, format) });
