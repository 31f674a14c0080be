import type { Metric } from '../metric.ts';
import { ads } from './ads.ts';
import { calls } from './calls.ts';
import { email } from './email.ts';
import { leads } from './leads.ts';
import { listings } from './listings.ts';
import { search } from './search.ts';
import { shop } from './shop.ts';
import { social } from './social.ts';
import { upkeep } from './upkeep.ts';
import { web } from './web.ts';

/** The standard metrics of the trade, in the order in which they are offered. */
export const METRICS: readonly Metric[] = [
  ...web,
  ...shop,
  ...leads,
  ...ads,
  ...social,
  ...email,
  ...calls,
  ...listings,
  ...upkeep,
  ...search,
];
