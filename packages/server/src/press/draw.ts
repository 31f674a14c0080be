import type { Range } from '@chronicon/core/calendar';
import {
  type Answers,
  answerAll,
  keyOf,
  type Lack,
  lacksOf,
  type MetricSettings,
  metricBook,
  planReads,
  type Question,
  type Target,
  uncountedOf,
} from '@chronicon/core/figures';
import { COMPOSE_VERSION, compose, type Scene } from '@chronicon/core/page';
import { type Brand, type DayNote, questionsOf, type ReportDocument, type Yardstick } from '@chronicon/core/report';
import { createFormatter, type Formatter } from '@chronicon/core/words';
import type { Kysely } from 'kysely';
import type { ColumnCache } from '../facts/columnCache.ts';
import { datasetsOf, factsRevision, readNeeds, readOnce } from '../facts/factReader.ts';
import type { FactTables } from '../facts/schema.ts';
import { knowledgeOf } from '../figures/reading.ts';
import type { Shaper } from './shaper.ts';

/** Everything a page is made of, but the figures: plain data, so that it can be handed to a worker. */
export interface DrawOrder {
  clientId: string;
  clientName: string;
  agencyName: string;
  title: string;
  document: ReportDocument;
  period: Range;
  compared: Range | null;
  yardstick?: Yardstick | undefined;
  /** How the client's metrics differ from the standard ones, and what it aims at. */
  metrics: MetricSettings;
  targets: Target[];
  /** Notes on days that readers are to see. */
  dayNotes: DayNote[];
  /** What was written for the period, by the id of its block. */
  commentary: Record<string, string>;
  brand: Brand;
  /** Metrics that the mail's merge fields name, asked beside those of the pages. */
  mailMetrics: string[];
  language: string;
  currency: string;
}

/** What an edition keeps for ever (ARCHITECTURE: frozen edition). Formatted strings are those of the scene. */
export interface Frozen {
  /** The instant that stands in the file; editions frozen without one carry that of their making. */
  created?: string;
  order: DrawOrder;
  answers: Answers;
  coverage: { dataset: string; firstDay: string; covered: (readonly [number, number])[] }[];
  fonts: Record<string, string>;
  composeVersion: number;
  scene: Scene;
}

export interface Drawn {
  scene: Scene;
  answers: Answers;
  lacks: Lack[];
  coverage: Frozen['coverage'];
  /** The state of the client's facts that it was drawn from. */
  revision: string;
}

const formatters = new Map<string, Formatter>();

/** Formatters are slow to build and hold no state: one for each language and currency. */
export function formatterOf(language: string, currency: string): Formatter {
  const key = `${language} ${currency}`;
  const found = formatters.get(key) ?? createFormatter(language, currency);
  formatters.set(key, found);
  return found;
}

/** Lays out what is known already: pure, and the same for preview, print and a redraw years later. */
export function layOut(order: DrawOrder, answers: Answers, shaper: Shaper): Scene {
  return compose({
    period: order.period,
    compared: order.compared,
    yardstick: order.yardstick,
    title: order.title,
    clientName: order.clientName,
    agencyName: order.agencyName,
    document: order.document,
    brand: order.brand,
    answers,
    book: metricBook(order.metrics),
    dayNotes: order.dayNotes,
    // Editions of before had none.
    commentary: order.commentary ?? {},
    format: formatterOf(order.language, order.currency),
    ruler: shaper,
  });
}

/** What the pages and the mail want to know. */
export function questionsFor(
  order: Pick<DrawOrder, 'document' | 'period' | 'compared' | 'yardstick' | 'mailMetrics'>,
): Question[] {
  const { period, compared, yardstick } = order;
  const asked = questionsOf(order.document, { period, compared, yardstick });
  for (const metric of order.mailMetrics) {
    for (const range of compared ? [period, compared] : [period])
      asked.push({ op: 'total', metric, range, filter: {} });
  }
  return [...new Map(asked.map((q) => [keyOf(q), q])).values()];
}

/** Asks all of a report's questions in one pass over the facts, in one read transaction, and lays the pages out. */
export async function draw(
  order: DrawOrder,
  facts: Kysely<FactTables>,
  shaper: Shaper,
  cache?: ColumnCache,
): Promise<Drawn> {
  const questions = questionsFor(order);
  const knowledge = knowledgeOf(order);
  const { shapes, datasets, revision } = await readOnce(facts, async (tx) => {
    const all = await datasetsOf(tx, order.clientId);
    return {
      shapes: all,
      datasets: await readNeeds(tx, planReads(questions, all, knowledge), cache),
      revision: await factsRevision(tx, order.clientId),
    };
  });
  const answers = answerAll(questions, datasets, knowledge);
  return {
    scene: layOut(order, answers, shaper),
    answers,
    lacks: [...lacksOf(questions, shapes, knowledge), ...uncountedOf(questions, datasets, knowledge)],
    coverage: datasets.map((d) => ({ dataset: d.id, firstDay: d.firstDay, covered: [...d.covered] })),
    revision,
  };
}

export { COMPOSE_VERSION };
