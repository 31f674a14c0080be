import { civilDateAt } from '@chronicon/core/calendar';
import type { FilterGapRow, ScheduleInput } from '@chronicon/core/contract';
import { dimensionsOf, metricBook, metricsOf, noFeedDivides, type Question } from '@chronicon/core/figures';
import {
  type ChosenParts,
  chooseParts,
  filterOfGroup,
  questionsByBlock,
  type ReportDocument,
  settleReport,
} from '@chronicon/core/report';
import { formatterOf } from '@chronicon/core/words';
import { datasetsOf } from '../facts/factReader.ts';
import { settleFilter } from '../figures/ask.ts';
import { atField } from '../platform/refusal.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { scheduleQuestions } from '../render/scheduleQuestions.ts';
import type { StoredClient } from '../store/clients.ts';
import { nameOfBlock } from './blockNames.ts';
import type { Api } from './context.ts';

/** What of a schedule says which figures it counts. */
export type Counting = Pick<ScheduleInput, 'period' | 'comparison' | 'assumed' | 'filter' | 'groups'> & ChosenParts;

/** The filters that a schedule's editions have: its own, and with each group's. */
function filtersOf({ filter, groups }: Pick<ScheduleInput, 'filter' | 'groups'>): ScheduleInput['filter'][] {
  if (!groups) return filter.length > 0 ? [filter] : [];
  // Groups without a filter of their own all ask for the same dimensions.
  const telling = groups.groups.filter((g, i) => i === 0 || g.filter.length > 0);
  return telling.map((g) => [...filter, ...filterOfGroup(groups, g)]);
}

/** What no feed knows, in words: `No feed knows Sends by Channel.` */
function whyNot(questions: readonly Question[], client: StoredClient): string {
  const { words } = formatterOf('en-GB', client.currency);
  const book = metricBook(client.metrics);
  const metrics = [...new Set(questions.flatMap(metricsOf))].map((m) => book.labelOf(m, words.metrics));
  const by = [...new Set(questions.flatMap(dimensionsOf))].map((d) => words.dimensions[d] ?? d);
  return `${metrics.join(', ')} can’t be filtered by ${by.join(' and ')}.`;
}

/**
 * The blocks of a report, as far as a schedule sends it, that one of its filters cannot apply to: no feed knows their figures
 * by its dimensions. What a block lacks without the filter is none of its business.
 * @throws Refusal at `filter` for a segment that is not there
 */
export async function filterGaps(
  api: Api,
  client: StoredClient,
  released: ReportDocument,
  input: Counting,
): Promise<FilterGapRow[]> {
  const document = chooseParts(released, input) ?? released;
  const filters = filtersOf(input);
  if (filters.length === 0) return [];
  const basis = await orderBasis(api.store, client);
  const book = metricBook(client.metrics);
  const knowledge = { book, targets: [] };
  const shapes = await datasetsOf(api.facts, client.id);
  const today = civilDateAt(api.clock.now(), client.zone);
  const dates = settleReport(document, input, today, client);
  const lackingOf = (filter: ScheduleInput['filter']) =>
    questionsByBlock(document, { ...basis, ...dates, filter }, book).map((of) => ({
      ...of,
      lacking: of.questions.filter((q) => noFeedDivides(q, shapes, knowledge)),
    }));
  const before = new Map(lackingOf([]).map((of) => [of.block.id, of.lacking.length]));
  const gaps = new Map<string, FilterGapRow>();
  for (const filter of filters) {
    await settleFilter(api, client.id, filter);
    for (const { page, block, lacking } of lackingOf(filter)) {
      if (gaps.has(block.id) || lacking.length <= (before.get(block.id) ?? 0)) continue;
      const name = nameOfBlock(block, client);
      gaps.set(block.id, { block: block.id, name, page: page.title, why: whyNot(lacking, client) });
    }
  }
  return [...gaps.values()];
}

/**
 * A block that a filter cannot apply to would hold each edition: it is left out, or another filter is chosen. So it is with the
 * figures that the mail names.
 * @throws Refusal at the field that says it
 */
export async function checkFilters(
  api: Api,
  client: StoredClient,
  released: ReportDocument,
  input: ScheduleInput,
): Promise<void> {
  const field = input.groups && input.filter.length === 0 ? 'groups.by' : 'filter';
  const gaps = await filterGaps(api, client, released, input);
  if (gaps.length > 0) {
    const [first, ...more] = gaps;
    const rest = more.length > 0 ? ` The same applies to ${more.length} more of its blocks.` : '';
    throw atField(
      'leftOut',
      `The filter can’t apply to “${first!.name}” on the page “${first!.page}”: ${first!.why}${rest} Hide it in this schedule, or choose another filter.`,
    );
  }
  const shapes = await datasetsOf(api.facts, client.id);
  const today = civilDateAt(api.clock.now(), client.zone);
  const nothing: ReportDocument = { ...released, pages: [] };
  const lackingIn = async (filter: ScheduleInput['filter']) => {
    const asked = await scheduleQuestions(api.store, client, nothing, { ...input, filter }, today);
    return asked.questions.filter((q) => noFeedDivides(q, shapes, asked.knowledge));
  };
  const before = await lackingIn([]);
  for (const filter of filtersOf(input)) {
    const now = await lackingIn(filter);
    if (now.length > before.length)
      throw atField(field, `${whyNot(now, client)} The email uses it: change the email, or choose another filter.`);
  }
}
