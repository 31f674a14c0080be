import { addMinutes } from '@chronicon/core/calendar';
import { metricBook } from '@chronicon/core/figures';
import { uniquesFor } from '../feeds/uniques.ts';
import { type DrawOrder, formatterOf, knowledgeOf, questionsFor } from '../press/draw.ts';
import { clientById } from '../store/clients.ts';
import { type EditionRow, moveEdition, ordersOf, postpone } from '../store/editions.ts';
import { feedsOf } from '../store/feeds.ts';
import { reportById } from '../store/reports.ts';
import type { Store } from '../store/store.ts';
import { settleDates } from './dates.ts';
import { mailMetricsOf } from './feedNeeds.ts';
import { describeLacks } from './lacks.ts';
import { orderBasis } from './orderBasis.ts';
import type { Tools } from './tools.ts';

/** Minutes between looks for data that has not come. */
const LOOK_AGAIN = 15;
/** A feed asked this recently is not asked again before drawing. */
const FRESH_MINUTES = 30;

/** All that an edition's pages are made of, but the figures. */
export async function drawOrderOf(db: Store, e: EditionRow): Promise<DrawOrder> {
  const orders = ordersOf(e);
  const client = (await clientById(db, e.client_id))!;
  const report = (await reportById(db, e.report_id))!;
  return {
    ...(await orderBasis(db, client)),
    title: orders.title,
    document: report.document,
    period: { from: e.period_from!, to: e.period_to! },
    compared: e.compared_from && e.compared_to ? { from: e.compared_from, to: e.compared_to } : null,
    yardstick: settleDates(orders.period, orders.comparison, orders.asOf, client).yardstick,
    mailMetrics: mailMetricsOf(orders, metricBook(client.metrics)),
  };
}

async function freshen(tools: Tools, clientId: string): Promise<void> {
  const since = addMinutes(tools.clock.now(), -FRESH_MINUTES);
  // A stopped feed waits for a person.
  const stale = (await feedsOf(tools.store, clientId)).filter(
    (f) => f.state !== 'stopped' && (f.last_success === null || f.last_success < since),
  );
  await Promise.all(stale.map((f) => tools.syncs.run(f.id, true)));
}

/**
 * Gets fresh data, and draws the edition once every day that it reads has been delivered. What lacks days waits; when
 * the send time comes and they still lack, it is held with the reason. Files are on disk before the row says so.
 */
export async function gather(tools: Tools, e: EditionRow): Promise<void> {
  const { store, files, clock, crash } = tools;
  await freshen(tools, e.client_id);
  const order = await drawOrderOf(store, e);
  await uniquesFor(tools, order.clientId, questionsFor(order), knowledgeOf(order));
  const result = await tools.press.edition(order, e.created_at);
  const now = clock.now();
  if ('lacks' in result) {
    const reason = describeLacks(
      result.lacks,
      await feedsOf(store, e.client_id),
      formatterOf('en-GB', order.currency),
      metricBook(order.metrics),
    );
    const text = reason.join(' ');
    if (now >= e.due_at) {
      await moveEdition(
        store,
        e,
        'held',
        { reason: `${text} Nothing was sent.`, next_at: null },
        { at: now, actor: 'clockwork' },
      );
    } else {
      const later = addMinutes(now, LOOK_AGAIN);
      await postpone(store, e.id, later < e.due_at ? later : e.due_at, text);
    }
    return;
  }
  crash('draw.before-files');
  const frozen = files.write(result.frozen);
  crash('draw.after-frozen-file');
  const pdf = files.write(result.pdf);
  crash('draw.after-pdf-file');
  const goes = ordersOf(e).readers.length > 0;
  await moveEdition(
    store,
    e,
    'cleared',
    { frozen, pdf, next_at: goes ? e.due_at : null },
    { at: now, actor: 'clockwork' },
  );
  crash('draw.after-cleared');
}
