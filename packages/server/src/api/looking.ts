import { type ComparisonSpec, civilDateAt, type PeriodSpec, type Range } from '@chronicon/core/calendar';
import type { Look, Written } from '@chronicon/core/contract';
import type { DrawOrder } from '@chronicon/core/page';
import { type OwnOfSchedule, ownOfSchedule, periodOfRun, settleReport, writableOf } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { atField } from '../platform/refusal.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { orderMetrics } from '../render/orderMetrics.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { commentariesOf, commentaryFor } from '../store/commentaries.ts';
import type { StoredReport } from '../store/reports.ts';
import { scheduleById } from '../store/schedules.ts';
import type { Api } from './context.ts';

/** What looking at a report for certain dates means: as an order sheet has it. */
export interface ResolvedLook extends OwnOfSchedule {
  period: PeriodSpec;
  comparison: ComparisonSpec;
  asOf: string;
}

/** @throws Refusal at `look` for a run of another report's schedule */
export async function lookAt(api: Api, report: StoredReport, client: StoredClient, look: Look): Promise<ResolvedLook> {
  const asOf = civilDateAt(api.clock.now(), client.zone);
  const { period, comparison } = report.document;
  if (look.kind === 'own') return { period, comparison, asOf };
  if (look.kind === 'dates') return { period: { kind: 'fixed', from: look.from, to: look.to }, comparison, asOf };
  const schedule = await scheduleById(api.store, look.schedule);
  if (schedule?.reportId !== report.id) throw atField('look', 'This is not a run of this report.');
  const covers = periodOfRun(schedule.period, schedule.exceptions[look.nominal]);
  return { period: covers, comparison: schedule.comparison, asOf: look.nominal, ...ownOfSchedule(schedule) };
}

/** The pages of what is edited, for the dates that are looked at. */
export async function orderOfLook(
  api: Api,
  report: StoredReport,
  client: StoredClient,
  looked: ResolvedLook,
): Promise<DrawOrder> {
  const basis = await orderBasis(api.store, client);
  const dates = settleReport(report.document, looked, looked.asOf, { ...client, excluded: basis.excluded });
  return {
    ...basis,
    ...orderMetrics(client.metrics, report.document, looked.assumed),
    ...ownOfSchedule(looked),
    asOf: civilDateAt(api.clock.now(), client.zone),
    title: report.title,
    document: report.document,
    commentary: await commentaryFor(api.store, report.id, dates.period, 'draft'),
    ...dates,
    mailMetrics: [],
  };
}

/** What is written for a period, block by block, with the last words of a period before it to start from. */
export async function writtenFor(
  api: Api,
  report: StoredReport,
  client: StoredClient,
  period: Range,
): Promise<Written[]> {
  const all = await commentariesOf(api.store, report.id);
  const english = formatterOf('en-GB', client.currency);
  return writableOf(report.document).map((block) => {
    const own = all.filter((c) => c.block === block);
    const now = own.find((c) => c.period.from === period.from && c.period.to === period.to);
    // Newest period first.
    const before = own.find((c) => c.period.to < period.to && c.released.trim() !== '');
    return {
      block,
      draft: now?.draft ?? '',
      released: now?.released ?? '',
      before: before ? { label: english.range(before.period), text: before.released } : null,
    };
  });
}

/** A report with its client. */
export async function withClient(api: Api, report: StoredReport): Promise<StoredClient> {
  return (await clientById(api.store, report.clientId))!;
}
