import { civilDateAt } from '@chronicon/core/calendar';
import type { ScheduleInput } from '@chronicon/core/contract';
import { dimensionsOf, metricBook, metricsOf, noFeedDivides } from '@chronicon/core/figures';
import { choosePages, filterOfGroup, type ReportDocument } from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { datasetsOf } from '../facts/factReader.ts';
import { settleFilter } from '../figures/ask.ts';
import { atField } from '../platform/refusal.ts';
import { scheduleQuestions } from '../render/scheduleQuestions.ts';
import type { StoredClient } from '../store/clients.ts';
import type { Api } from './context.ts';

/**
 * A report that asks for what no feed knows by the dimensions of a filter would be held each time it is due: that is said
 * where the filter is chosen. What the report lacks without it is none of its business.
 * @throws Refusal at the field that says it
 */
async function checkFilter(
  api: Api,
  client: StoredClient,
  document: ReportDocument,
  input: ScheduleInput,
  field: string,
): Promise<void> {
  if (input.filter.length === 0) return;
  await settleFilter(api, client.id, input.filter);
  const today = civilDateAt(api.clock.now(), client.zone);
  const shapes = await datasetsOf(api.facts, client.id);
  const lacking = async (filter: ScheduleInput['filter']) => {
    const asked = await scheduleQuestions(api.store, client, document, { ...input, filter }, today);
    return asked.questions.filter((q) => noFeedDivides(q, shapes, asked.knowledge));
  };
  const [before, now] = [await lacking([]), await lacking(input.filter)];
  if (now.length <= before.length) return;
  const { words } = formatterOf('en-GB', client.currency);
  const book = metricBook(client.metrics);
  const metrics = [...new Set(now.flatMap(metricsOf))].map((m) => book.labelOf(m, words.metrics));
  const by = [...new Set(now.flatMap(dimensionsOf))].map((d) => words.dimensions[d] ?? d);
  throw atField(
    field,
    `No feed knows ${metrics.join(', ')} by all of ${by.join(', ')}: this report cannot be counted so. Choose another filter, or change the report.`,
  );
}

/**
 * Looks at what a schedule counts, and what each of its groups does.
 * @throws Refusal at the field that asks for what no feed knows
 */
export async function checkFilters(
  api: Api,
  client: StoredClient,
  document: ReportDocument,
  input: ScheduleInput,
): Promise<void> {
  const pages = choosePages(document, input.pages) ?? document;
  await checkFilter(api, client, pages, input, 'filter');
  const { groups } = input;
  if (!groups) return;
  // Groups without a filter of their own all ask for the same dimensions.
  const telling = groups.groups.filter((g, i) => i === 0 || g.filter.length > 0);
  for (const g of telling) {
    const filter = [...input.filter, ...filterOfGroup(groups, g)];
    await checkFilter(api, client, pages, { ...input, filter }, 'groups.by');
  }
}
