import { addDays, toDayNumber } from '@chronicon/core/calendar';
import { NO_SETTINGS } from '@chronicon/core/figures';
import type { DrawOrder } from '@chronicon/core/page';
import { A4, type Block, type ReportDocument } from '@chronicon/core/report';
import { type FactRow, openFacts, replaceDays, saveDataset } from '@chronicon/server/facts';

const CHANNELS = ['Organic search', 'Paid search', 'Direct', 'Social', 'Email', 'Referral'];
const DEVICES = ['Mobile', 'Desktop', 'Tablet'];
const COUNTRIES = ['United Kingdom', 'Ireland', 'France'];
const PAGES = Array.from({ length: 24 }, (_, i) => `/collections/autumn/part-${i + 1}`);
const SPEC = {
  dimensions: ['channel', 'device', 'country', 'landingPage'],
  measures: ['visits', 'pageViews', 'bounces', 'engagedSeconds', 'orders', 'revenue', 'leads'],
};

/** A number in [0, 1) from two others, the same everywhere. */
const chance = (a: number, b: number): number => Math.abs(Math.sin(a * 12.9898 + b * 78.233) * 43_758.5453) % 1;

function rowsOf(day: string): FactRow[] {
  const n = toDayNumber(day);
  return CHANNELS.flatMap((channel, c) =>
    DEVICES.flatMap((device, d) =>
      COUNTRIES.map((country, k) => {
        const i = c * 9 + d * 3 + k;
        const visits = 20 + Math.floor(chance(n, i) * 180);
        const orders = Math.floor(visits * 0.03 * chance(n, i + 60));
        const dims = [channel, device, country, PAGES[(i * 7 + n) % PAGES.length]!];
        const money = Math.round(orders * 4_850 * chance(n, i + 120)) / 100;
        return {
          day,
          dims,
          measures: [
            visits,
            visits * 3,
            Math.floor(visits * 0.4),
            visits * 71,
            orders,
            money,
            Math.floor(visits * 0.01),
          ],
        };
      }),
    ),
  );
}

/** A client's facts: two years of 54 rows a day. */
export async function writeFacts(folder: string, clientId = 'cl_bench'): Promise<void> {
  const facts = await openFacts(folder);
  const spec = { key: 'visits', name: 'Visits', firstDay: '2024-11-01', ...SPEC };
  const id = await saveDataset(facts, { feedId: 'fe_bench', clientId, position: 0 }, spec);
  for (let from = '2024-11-01'; from <= '2026-10-31'; from = addDays(from, 31)) {
    const to = addDays(from, 30) > '2026-10-31' ? '2026-10-31' : addDays(from, 30);
    const rows: FactRow[] = [];
    for (let day = from; day <= to; day = addDays(day, 1)) rows.push(...rowsOf(day));
    await replaceDays(facts, id, spec, { from, to }, rows, '2026-11-01T05:00:00Z');
  }
  await facts.destroy();
}

let ids = 0;
const id = () => `b${ids++}`;
const row = (...blocks: Block[]) => ({ id: id(), blocks });
const kpis = (...metrics: string[]): Block => ({ kind: 'kpiRow', id: id(), metrics });
const trend = (metric: string): Block => ({ kind: 'trend', id: id(), metric, title: '' });
const rank = (dimension: 'channel' | 'device' | 'country' | 'landingPage', n: number, ...metrics: string[]): Block => ({
  kind: 'ranking',
  id: id(),
  dimension,
  metrics,
  n,
  title: '',
});
const heading = (text: string): Block => ({ kind: 'heading', id: id(), text });
const say = (text: string): Block => ({ kind: 'commentary', span: 'standing', id: id(), text });

/** Six full pages of about 390 texts in all and 22 paths or more a page, most of them unlike each other. */
export const sixPages: ReportDocument = {
  version: 2,
  // It would be a sheet more.
  noContents: true,
  period: { kind: 'unit', unit: 'month', offset: -1 },
  comparison: { kind: 'lastYear' },
  pages: [
    {
      id: id(),
      title: 'Overview',
      rows: [
        row(heading('A strong month: paid search brought most of the rise')),
        row(
          say(
            'Visits rose after the autumn collection opened. Most of the new visitors came by paid search and looked at two parts of it.\n\n- The basket keeps what was chosen.\n- Next: the last step on a phone.',
          ),
        ),
        row(kpis('visits', 'orders', 'revenue', 'orderRate')),
        row(trend('visits')),
        row(rank('channel', 3, 'visits', 'revenue')),
      ],
    },
    {
      id: id(),
      title: 'Orders',
      rows: [
        row(kpis('orders', 'revenue', 'averageOrder', 'orderRate')),
        row(trend('revenue')),
        row(rank('channel', 4, 'orders', 'revenue')),
      ],
    },
    {
      id: id(),
      title: 'Pages',
      rows: [
        row(heading('Where visits began')),
        row(rank('landingPage', 7, 'visits', 'bounceRate')),
        row(trend('pageViews')),
      ],
    },
    {
      id: id(),
      title: 'People',
      rows: [
        row(kpis('visits', 'pagesPerVisit', 'bounceRate', 'engagedTime')),
        row(rank('device', 3, 'visits'), rank('country', 3, 'visits')),
        row(trend('bounceRate')),
      ],
    },
    {
      id: id(),
      title: 'Enquiries',
      rows: [row(kpis('leads', 'leadRate', 'visits')), row(trend('leads')), row(rank('channel', 5, 'leads'))],
    },
    {
      id: id(),
      title: 'Countries',
      rows: [
        row(heading('Country by country')),
        row(rank('country', 3, 'visits', 'orders')),
        row(trend('orders')),
        row(rank('device', 3, 'orders')),
      ],
    },
  ],
};

/** The fixture as an order to the renderer; `n` makes each document's words its own. */
export const orderOf = (n: number): DrawOrder => ({
  clientId: 'cl_bench',
  clientName: 'Quillon Cycle Works',
  manager: { name: 'Ines Tallow', email: 'ines.tallow@fernglass.example' },
  asOf: '2026-11-02',
  paper: A4,
  agencyName: 'Fernglass Media',
  title: `Shop month ${n}`,
  document: sixPages,
  period: { from: '2026-10-01', to: '2026-10-31' },
  compared: { from: '2025-10-01', to: '2025-10-31' },
  metrics: NO_SETTINGS,
  targets: [],
  holidays: [],
  dayNotes: [],
  commentary: {},
  brand: { main: '#2f6b3a', second: '#b8862d', footer: '', logo: null },
  mailMetrics: [],
  language: 'en-GB',
  currency: 'GBP',
});
