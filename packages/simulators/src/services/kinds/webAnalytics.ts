import type { ServiceKind } from '../serviceKind.ts';
import { ACCOUNTS, type Account } from './webAnalytics/accounts.ts';
import { DATASETS, type DatasetKey, MEASURES, rowsOfDay } from './webAnalytics/history.ts';

/** Visits by channel, device, country, landing page and hour; orders, revenue and enquiries; visitors as a unique. */
export const webAnalytics: ServiceKind = {
  kind: 'web-analytics',
  label: 'Web analytics',
  accounts: ACCOUNTS,
  datasets: DATASETS.map((d) => ({ ...d, measures: MEASURES })),
  uniques: ['visitors'],
  rows: (account, dataset, date, seed) => rowsOfDay(account as Account, dataset as DatasetKey, date, seed),
};
