import { createHash } from 'node:crypto';
import { civilDateAt, type Range } from '@chronicon/core/calendar';
import { metricBook } from '@chronicon/core/figures';
import type { DrawOrder } from '@chronicon/core/page';
import {
  blocksOfMail,
  chooseParts,
  metricsNamed,
  type OrderSheet,
  ownOfSchedule,
  settleDates,
  settleReport,
  textsOfMail,
} from '@chronicon/core/report';
import { factsRevision } from '../facts/factReader.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { orderMetrics } from '../render/orderMetrics.ts';
import { clientById } from '../store/clients.ts';
import { commentaryFor } from '../store/commentaries.ts';
import { type EditionRow, ordersOf } from '../store/editions.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { type StoredSchedule, scheduleById } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { groupIdsOf, ordersFor } from './ordersOfRun.ts';
import type { Tools } from './tools.ts';

/** What an edition is made from now: of a run, by its schedule; of one made by hand, as it was ordered. */
export interface Settled {
  orders: OrderSheet;
  dates: { period: Range; compared: Range | null };
  schedule: StoredSchedule | null;
  report: StoredReport;
}

/** Reads anew what an edition is made from: an edition follows until it is on its way (SEMANTICS §10). */
export async function settle(db: Store, e: EditionRow): Promise<Settled> {
  const client = (await clientById(db, e.client_id))!;
  const schedule = e.schedule_id === null ? null : await scheduleById(db, e.schedule_id);
  const report = (await reportById(db, schedule?.reportId ?? e.report_id))!;
  // What a person signed off goes as it was; one of a group that is no more is for nobody.
  const follows =
    schedule && e.nominal !== null && e.approval_id === null && groupIdsOf(schedule).includes(e.reader_group);
  const orders = follows ? await ordersFor(db, schedule, report, e.nominal!, e.reader_group) : ordersOf(e);
  const { period, compared } = settleDates(orders.period, orders.comparison, orders.asOf, client);
  return { orders, dates: { period, compared }, schedule, report };
}

/** What of an edition's row follows from what it is made from. */
export const columnsOf = ({ orders, dates }: Pick<Settled, 'orders' | 'dates'>) => ({
  title: orders.title,
  order_sheet: JSON.stringify(orders),
  period_from: dates.period.from,
  period_to: dates.period.to,
  compared_from: dates.compared?.from ?? null,
  compared_to: dates.compared?.to ?? null,
});

/**
 * All that an edition's pages are made of, but the figures; null while its report was never
 * released, or has none of the pages that it is to have.
 * @param now an instant: its day at the client's is the one that the figures are as of
 */
export async function drawOrderOf(db: Store, e: EditionRow, settled: Settled, now: string): Promise<DrawOrder | null> {
  const { orders, report } = settled;
  const client = (await clientById(db, e.client_id))!;
  const which = orders.draft ? 'draft' : 'released';
  const whole = orders.draft ? report.document : report.release?.document;
  const document = whole && chooseParts(whole, orders);
  if (!document) return null;
  const named = textsOfMail(orders).flatMap(metricsNamed);
  const book = metricBook(client.metrics);
  const basis = await orderBasis(db, client);
  const dates = settleReport(document, orders, orders.asOf, { ...client, excluded: basis.excluded });
  return {
    ...basis,
    ...orderMetrics(client.metrics, document, orders.assumed),
    ...ownOfSchedule(orders),
    asOf: civilDateAt(now, client.zone),
    title: orders.title,
    document,
    commentary: await commentaryFor(db, report.id, dates.period, which),
    ...dates,
    mailMetrics: [...new Set(named)].filter((key) => book.has(key)),
    ...(orders.mail && { mailBlocks: blocksOfMail(document, orders.mail) }),
  };
}

/**
 * One text for all that an edition's pages are made of: another one, and it has to be drawn anew. That a day has passed is
 * no reason.
 */
export const madeOf = (order: DrawOrder, revision: string): string =>
  createHash('sha256')
    .update(JSON.stringify([{ ...order, asOf: null }, revision]))
    .digest('base64url');

/** {@link madeOf} as things are now, by what {@link settle} has read; null when nothing can be drawn. */
export async function madeOfNow(
  tools: Pick<Tools, 'facts'>,
  tx: Store,
  e: EditionRow,
  settled: Settled,
): Promise<string | null> {
  const order = await drawOrderOf(tx, e, settled, e.created_at);
  return order && madeOf(order, await factsRevision(tools.facts, e.client_id));
}
