import {
  type Answers,
  answer,
  answerAll,
  keyOf,
  type Lack,
  lacksOf,
  metricBook,
  picturesOf,
  planReads,
  type Question,
  uncountedOf,
} from '@chronicon/core/figures';
import {
  COMPOSE_VERSION,
  type ComposeInput,
  compose,
  type DrawOrder,
  type Frozen,
  type PageMemo,
  type Scene,
} from '@chronicon/core/page';
import {
  goneIn,
  oddQuestion,
  questionsOf,
  type ReportScope,
  shownIn,
  turnedBy,
  wholeScope,
} from '@chronicon/core/report';
import { formatterOf, oddDayWords, withOwnNames, withoutWords } from '@chronicon/core/words';
import type { Kysely } from 'kysely';
import type { ColumnCache } from '../facts/columnCache.ts';
import { datasetsOf, factsRevision, inSnapshot, readNeeds } from '../facts/factReader.ts';
import type { FactTables } from '../facts/schema.ts';
import { knowledgeOf } from '../figures/reading.ts';
import { attachedFigures } from './attachedFigures.ts';
import type { Shaper } from './shaper.ts';
import { digest, type ThreadCache } from './threadCache.ts';

/** All that the pages and the mail of an order want to know. */
export interface AnsweredOrder {
  answers: Answers;
  lacks: Lack[];
  coverage: Frozen['coverage'];
  /** The state of the client's facts that it was drawn from. */
  revision: string;
}

export interface Drawn extends AnsweredOrder {
  scene: Scene;
}

/** What pages and mail are composed of, once the answers are known. */
export function inputOf(order: DrawOrder, answers: Answers, shaper: Shaper): ComposeInput {
  const { clientId: _, metrics, usual: __, targets: ___, holidays: ____, ...rest } = order;
  const { mailMetrics: _____, mailBlocks: ______, language, currency, ...told } = rest;
  return {
    ...told,
    answers,
    book: metricBook(metrics),
    format: withOwnNames(formatterOf(language, currency), metrics.names),
    ruler: shaper,
  };
}

/** Lays out what is known already: pure, and the same for preview, print and a redraw years later. */
export function layOut(order: DrawOrder, answers: Answers, shaper: Shaper, memo?: PageMemo): Scene {
  const scene = compose(inputOf(order, answers, shaper), memo);
  const attached = attachedFigures(order, answers);
  return { ...scene, ...(attached && { attached }) };
}

/** What the pages and the mail want to know. */
export function questionsFor(
  order: Pick<DrawOrder, 'document' | 'metrics' | 'mailMetrics' | keyof ReportScope>,
): Question[] {
  const asked = questionsOf(order.document, order, metricBook(order.metrics));
  const whole = wholeScope(order.document, order);
  const { period, compared } = whole;
  for (const metric of order.mailMetrics) {
    for (const range of compared ? [period, compared] : [period])
      asked.push({ op: 'total', metric, range, filter: whole.filter });
    asked.push(oddQuestion(metric, whole));
  }
  return [...new Map(asked.map((q) => [keyOf(q), q])).values()];
}

/** What odd days that nobody explained make of the verdicts, in sentences for the manager (the interface is English). */
export function turnedWords(order: DrawOrder, answers: Answers): string[] {
  const book = metricBook(order.metrics);
  const english = formatterOf('en-GB', order.currency);
  const { document, dayNotes, mailMetrics } = order;
  const mailed = mailMetrics.map((metric) => ({ metric, scope: wholeScope(document, order) }));
  return turnedBy({ answers, book, dayNotes }, [...shownIn(document, order, book), ...mailed]).map(
    ({ metric, days, odd, change }) => {
      const label = book.labelOf(metric.key, english.words.metrics);
      const verdict = change.verdict === 'changed' ? '' : ` (${change.verdict})`;
      const why = oddDayWords(days, metric, book, english).join('; ');
      return `${label}: ${english.change(change)}${verdict}. ${withoutWords({ metric, label, odd }, english)}. ${why}.`;
    },
  );
}

/** Asks all of a report's questions in one pass over the facts, in one read transaction. */
export async function answerOrder(
  order: DrawOrder,
  facts: Kysely<FactTables>,
  cache?: ColumnCache,
): Promise<AnsweredOrder> {
  const questions = questionsFor(order);
  const knowledge = knowledgeOf(order);
  const { shapes, datasets, revision } = await inSnapshot(facts, async (tx) => {
    const all = await datasetsOf(tx, order.clientId);
    return {
      shapes: all,
      datasets: await readNeeds(tx, planReads(questions, all, knowledge), cache),
      revision: await factsRevision(tx, order.clientId),
    };
  });
  const answers = answerAll(questions, datasets, knowledge);
  return {
    answers,
    lacks: [
      ...goneIn(order.document, order, metricBook(order.metrics)),
      ...lacksOf(questions, shapes, knowledge),
      ...uncountedOf(questions, datasets, knowledge),
    ],
    coverage: datasets.map((d) => ({ dataset: d.id, firstDay: d.firstDay, covered: [...d.covered] })),
    revision,
  };
}

/** The same, with the pages laid out. */
export async function draw(
  order: DrawOrder,
  facts: Kysely<FactTables>,
  shaper: Shaper,
  cache?: ColumnCache,
): Promise<Drawn> {
  const answered = await answerOrder(order, facts, cache);
  return { ...answered, scene: layOut(order, answered.answers, shaper) };
}

/** What a sheet hangs on beside the pages, their blocks' own dates, what was written for them and their answers. */
const basisOf = ({ document, own: _, commentary: __, ...rest }: DrawOrder): string =>
  digest(JSON.stringify({ ...rest, document: { ...document, pages: [] } }));

/**
 * The pages while they are edited, as {@link draw} has them: of the facts only what is asked for the first time is read, and
 * only sheets that changed are laid out, as long as facts, metrics and targets stay as they were.
 *
 * @param looked addresses of pictures that were looked for; left out for all
 * @returns nothing but the pictures where others are to be shown: nothing is laid out before these were looked for
 */
export async function look(
  order: DrawOrder,
  facts: Kysely<FactTables>,
  shaper: Shaper,
  cache: ColumnCache,
  kept: ThreadCache,
  looked?: readonly string[],
): Promise<(Pick<Drawn, 'scene' | 'lacks'> & { pictures: string[] }) | { scene: null; pictures: string[] }> {
  const questions = questionsFor(order);
  const knowledge = knowledgeOf(order);
  const known = await inSnapshot(facts, async (tx) => {
    const revision = await factsRevision(tx, order.clientId);
    const { metrics, usual, targets, holidays, excluded } = order;
    const answers = kept.answersOf(
      digest(JSON.stringify([order.clientId, revision, metrics, usual, targets, holidays, excluded])),
    );
    const shapes = await datasetsOf(tx, order.clientId);
    const missing = questions.filter((q) => !answers.has(keyOf(q)));
    if (missing.length > 0) {
      const datasets = await readNeeds(tx, planReads(missing, shapes, knowledge), cache);
      for (const q of missing) {
        const uncounted = uncountedOf([q], datasets, knowledge);
        answers.set(keyOf(q), { answer: answer(q, datasets, knowledge), uncounted });
      }
    }
    return { answers, shapes };
  });
  const of = (q: Question) => known.answers.get(keyOf(q))!;
  const answers: Answers = Object.fromEntries(questions.map((q) => [keyOf(q), of(q).answer]));
  const pictures = picturesOf(answers);
  if (looked && pictures.some((address) => !looked.includes(address))) return { scene: null, pictures };
  return {
    scene: layOut(order, answers, shaper, kept.memoOf(basisOf(order))),
    pictures,
    lacks: [
      ...goneIn(order.document, order, metricBook(order.metrics)),
      ...lacksOf(questions, known.shapes, knowledge),
      ...onceEach(questions.flatMap((q) => of(q).uncounted)),
    ],
  };
}

/** What several questions lack alike, told once. */
const onceEach = (lacks: readonly Lack[]): Lack[] => [
  ...new Map(lacks.map((lack) => [JSON.stringify(lack), lack])).values(),
];

export { COMPOSE_VERSION };
