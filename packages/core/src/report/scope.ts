import { addDays, type CivilDate } from '../calendar/index.ts';
import {
  type FilterPart,
  filterOf,
  keyOf,
  type Lack,
  type MetricBook,
  type Question,
  SEGMENT,
  type Segment,
  withSegments,
} from '../figures/index.ts';
import type { Dates, Scope } from './blocks/block.ts';
import { type Block, blockKind } from './blocks/registry.ts';
import { blocksOf, type ReportDocument, type ReportPage, standing } from './document.ts';
import { checkMergeFields } from './mergeFields.ts';
import type { Shown } from './oddDays.ts';
import { oddQuestion } from './oddQuestion.ts';
import type { OwnOfSchedule } from './ownOfSchedule.ts';

/** What the blocks of a document are asked for: the dates of its pages, those of blocks with their own, named filters. */
export interface ReportScope extends Dates, OwnOfSchedule {
  /** By the id of the block. */
  own?: Readonly<Record<string, Dates>> | undefined;
  segments?: readonly Segment[] | undefined;
  /** The as-of date of the run; left out by what was kept before it was said: the day after the period. */
  at?: CivilDate | undefined;
  /** The client's first day of the week; left out for Monday, and by what was kept before it was read. */
  weekStart?: number | undefined;
  /** What was written for the period, by the id of its block. */
  commentary?: Readonly<Record<string, string>> | undefined;
}

/** The parts of the filter by which a report counts as a whole: its own, narrowed by its schedule's. */
export const wholeParts = (document: Pick<ReportDocument, 'filter'>, { filter = [] }: OwnOfSchedule) => [
  ...(document.filter ?? []),
  ...filter,
];

/** The parts of the filter by which a block counts: its own or the report's, narrowed by the schedule's. */
export const partsOf = (document: ReportDocument, block: Block, { filter = [] }: OwnOfSchedule): FilterPart[] => [
  ...(block.filter ?? document.filter ?? []),
  ...filter,
];

const settledFilter = (parts: readonly FilterPart[], { segments = [] }: ReportScope) =>
  filterOf(withSegments(parts, segments).parts);

const asOf = ({ at, period }: ReportScope): CivilDate => at ?? addDays(period.to, 1);

const MONDAY = 1;

const datesOnly = ({ period, compared, yardstick }: Dates): Dates => ({ period, compared, yardstick });

/** What a block shows. */
export const scopeOf = (document: ReportDocument, block: Block, page: ReportScope): Scope => ({
  ...datesOnly(page.own?.[block.id] ?? page),
  at: asOf(page),
  weekStart: page.weekStart ?? MONDAY,
  written: page.commentary?.[block.id] ?? '',
  filter: settledFilter(partsOf(document, block, page), page),
});

/** What a report shows as a whole: its own dates, by its own filter. */
export const wholeScope = (document: ReportDocument, page: ReportScope): Scope => ({
  ...datesOnly(page),
  at: asOf(page),
  weekStart: page.weekStart ?? MONDAY,
  written: '',
  filter: settledFilter(wholeParts(document, page), page),
});

/**
 * What a block asks for that is no longer there: metrics of the client, segments. Such a block asks nothing; it says so in
 * its place, and keeps an edition from being made.
 */
export function goneFor(document: ReportDocument, block: Block, page: ReportScope, book: MetricBook): string[] {
  const kind = blockKind(block);
  const metrics = kind.metricsOf(block).filter((key) => !book.has(key));
  const text = kind.textOf(block, page.commentary?.[block.id] ?? '');
  const fault = checkMergeFields(text, book.keys);
  const segments = kind.reads ? withSegments(partsOf(document, block, page), page.segments ?? []).gone : [];
  // What is no field is told as it was written.
  const written = fault && (fault.code === 'syntax' ? fault.field : `{{${fault.field}}}`);
  return [...new Set([...metrics, ...segments.map(() => SEGMENT), ...(written ? [written] : [])])];
}

/** The same of a whole document and its mail, as what keeps an edition from being drawn. */
export function goneIn(document: ReportDocument, page: ReportScope, book: MetricBook): Lack[] {
  const whole = withSegments(wholeParts(document, page), page.segments ?? []).gone.map(() => SEGMENT);
  const gone = [...whole, ...blocksOf(standing(document)).flatMap((block) => goneFor(document, block, page, book))];
  return gone.length > 0 ? [{ kind: 'gone', what: [...new Set(gone)].sort() }] : [];
}

/** The blocks that go out and whose metrics and segments are there, with what each shows. */
function asking(document: ReportDocument, page: ReportScope, book: MetricBook): { block: Block; scope: Scope }[] {
  return blocksOf(standing(document))
    .filter((block) => goneFor(document, block, page, book).length === 0)
    .map((block) => ({ block, scope: scopeOf(document, block, page) }));
}

const shownBy = ({ block, scope }: { block: Block; scope: Scope }): Shown[] =>
  blockKind(block)
    .metricsOf(block)
    .map((metric) => ({ metric, scope }));

/** The metrics that a document's blocks show, in reading order. */
export const shownIn = (document: ReportDocument, page: ReportScope, book: MetricBook): Shown[] =>
  asking(document, page, book).flatMap(shownBy);

/** What one block wants to know, and what may be odd there. */
const questionsAsked = (asks: { block: Block; scope: Scope }): Question[] => [
  ...blockKind(asks.block).questions(asks.block, asks.scope),
  ...shownBy(asks).map(({ metric, scope }) => oddQuestion(metric, scope)),
];

/** What each block that goes out wants to know, with its page. */
export const questionsByBlock = (
  document: ReportDocument,
  page: ReportScope,
  book: MetricBook,
): { page: ReportPage; block: Block; questions: Question[] }[] =>
  standing(document).pages.flatMap((p) =>
    asking({ ...document, pages: [p] }, page, book).map((asks) => ({
      page: p,
      block: asks.block,
      questions: questionsAsked(asks),
    })),
  );

/** What the blocks of one page of a document want to know; nothing of those whose metrics or segments are gone. */
export const questionsOfPage = (
  document: ReportDocument,
  page: ReportDocument['pages'][number],
  scope: ReportScope,
  book: MetricBook,
): Question[] => asking({ ...document, pages: [page] }, scope, book).flatMap(questionsAsked);

/** What a document's blocks want to know, and what may be odd there; equal questions are asked once. */
export function questionsOf(document: ReportDocument, page: ReportScope, book: MetricBook): Question[] {
  const asked = asking(document, page, book).flatMap(questionsAsked);
  return [...new Map(asked.map((q) => [keyOf(q), q])).values()];
}
