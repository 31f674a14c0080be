import { ownOf } from '@chronicon/core/bounds';
import { civilDateAt } from '@chronicon/core/calendar';
import type { DesignNeed } from '@chronicon/core/contract';
import { DIMENSION_KEYS, datasetOf, type Metric, metricBook } from '@chronicon/core/figures';
import {
  type Binding,
  bindDocument,
  type Dropped,
  designFor,
  documentFrom,
  fitDesign,
  type Generalising,
  generalDesign,
  needsOf,
  questionsByBlock,
  type ReportDocument,
  STARTERS,
  settleReport,
} from '@chronicon/core/report';
import { formatterOf, wordsFor } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { datasetsOf } from '../facts/factReader.ts';
import { dimensionsOf, isAvailable } from '../figures/available.ts';
import { atField } from '../platform/refusal.ts';
import { orderBasis } from '../render/orderBasis.ts';
import { clientById, type StoredClient } from '../store/clients.ts';
import { newId } from '../store/ids.ts';
import type { StoredReport } from '../store/reports.ts';
import type { Store } from '../store/store.ts';
import { templateAt, templateById } from '../store/templates.ts';
import { theReport } from './access.ts';
import type { Api } from './context.ts';

/** Which design: one that comes with the product, one of the agency, or a report’s. */
export interface Which {
  starter?: string | undefined;
  template?: string | undefined;
  report?: string | undefined;
  /** Of another client’s report, the typed texts that come along. */
  texts?: readonly string[] | undefined;
}

/** A design for a client, with the template that a report made of it follows. */
export interface Design {
  document: ReportDocument;
  follows: { id: string; version: number } | null;
}

/** The template that a report follows, as it was when the report took it; undefined for one that follows none. */
export const templateOf = async (db: Store, { template }: StoredReport): Promise<ReportDocument | undefined> =>
  template ? ((await templateAt(db, template.id, template.version))?.document ?? undefined) : undefined;

/** What makes a report’s design general: whose it is, in which language, after which template. */
export async function generalisingOf(db: Store, report: StoredReport): Promise<Generalising> {
  const { name, language } = (await clientById(db, report.clientId))!;
  return { clientName: name, words: wordsFor(language), template: await templateOf(db, report) };
}

/** @throws Refusal at the choice that names nothing, or 404 for a report that is not the member’s to see */
export async function designOf(api: Api, session: Session, client: StoredClient, which: Which): Promise<Design> {
  if (which.template !== undefined) {
    const found = await templateById(api.store, which.template);
    if (!found) throw atField('template', 'Template not found.');
    return { document: designFor(found.document, client.name), follows: { id: found.id, version: found.version } };
  }
  if (which.report !== undefined) {
    const report = await theReport(api.store, session.member, which.report);
    const general = async () =>
      generalDesign(report.document, await generalisingOf(api.store, report), new Set(which.texts));
    return {
      document: report.clientId === client.id ? report.document : designFor(await general(), client.name),
      follows: report.template && { id: report.template.id, version: report.template.version },
    };
  }
  if (!STARTERS.some((s) => s.key === which.starter)) throw atField('starter', 'Starter not found.');
  const document = documentFrom(which.starter!, wordsFor(client.language), () => newId('bl'));
  return { document, follows: null };
}

/** A design as a client’s own, by its names of things. */
export const bound = ({ document, follows }: Design, binding: Binding) => ({
  document: bindDocument(document, binding),
  template: follows && ({ ...follows, binding } satisfies StoredReport['template']),
});

/**
 * A starting design as the client's feeds can answer it, and what it loses. A template and another report's design are somebody's
 * own: they stay whole, and say in its place what is lacking.
 */
export async function fitted(
  api: Pick<Api, 'store' | 'facts' | 'clock'>,
  client: StoredClient,
  document: ReportDocument,
  which: Which,
): Promise<{ document: ReportDocument; dropped: Dropped[] }> {
  const shapes = await datasetsOf(api.facts, client.id);
  if (which.starter === undefined || shapes.length === 0) return { document, dropped: [] };
  const basis = await orderBasis(api.store, client);
  const book = metricBook(client.metrics);
  const knowledge = { book, targets: [] };
  const dates = settleReport(document, document, civilDateAt(api.clock.now(), client.zone), client);
  return fitDesign(document, {
    has: (key) => book.has(key) && isAvailable(book.lookup(key), shapes, book),
    dimensionOf: (key) =>
      dimensionsOf(book.of(key), shapes, book).find((d) => DIMENSION_KEYS.includes(d as never)) ?? null,
    answers: (block, page) => {
      const alone = { ...document, pages: [{ ...page, rows: [{ id: 'row', blocks: [block] }] }] };
      const asked = questionsByBlock(alone, { ...basis, ...dates }, book).flatMap((b) => b.questions);
      return asked.every((q) => q.op === 'oddDays' || datasetOf(q, shapes, knowledge) !== null || q.op === 'target');
    },
  });
}

const MOST_NEAR = 5;

/** Words of a key: `costPerClick` is three. */
const wordsOf = (key: string): Set<string> => new Set(key.split(/(?=[A-Z])/).map((w) => w.toLowerCase()));

/** How like another metric is: of one unit alone; then by its part of the trade, its words, and which way is good. */
function likeness(a: Metric, b: Metric): number {
  if (a.unit !== b.unit) return 0;
  const theirs = wordsOf(b.key);
  const shared = [...wordsOf(a.key)].filter((w) => theirs.has(w)).length;
  return 1 + (a.field === b.field ? 3 : 0) + 2 * shared + (a.polarity === b.polarity ? 1 : 0);
}

/** What a design asks of a client, whether its feeds bring it, and what is near. */
export async function needsFor(
  api: Pick<Api, 'facts'>,
  client: StoredClient,
  document: ReportDocument,
): Promise<{ metrics: DesignNeed[]; dimensions: DesignNeed[] }> {
  const english = formatterOf('en-GB', client.currency);
  const { words } = english;
  const book = metricBook(client.metrics);
  const shapes = await datasetsOf(api.facts, client.id);
  const there = book.metrics.filter((m) => isAvailable(m.aggregation, shapes, book));
  const keys = new Set(there.map((m) => m.key));
  const label = (key: string) =>
    book.has(key) ? book.labelOf(key, words.metrics) : (ownOf(words.metrics, key) ?? key);
  const needs = needsOf(document);
  const metrics = needs.metrics.map((key): DesignNeed => {
    const known = book.has(key) ? book.of(key) : null;
    const near = known
      ? there
          .map((m) => ({ m, like: likeness(known, m) }))
          .filter(({ like }) => like > 0)
          .sort((a, b) => b.like - a.like)
          .slice(0, MOST_NEAR)
          .map(({ m }) => ({ key: m.key, label: label(m.key) }))
      : there.slice(0, MOST_NEAR).map((m) => ({ key: m.key, label: label(m.key) }));
    return { key, label: label(key), there: keys.has(key), near: keys.has(key) ? [] : near };
  });
  const asked = needs.metrics.filter((k) => keys.has(k)).map((k) => book.of(k));
  const known = new Set((asked.length > 0 ? asked : there).flatMap((m) => dimensionsOf(m, shapes, book)));
  const name = (key: string) => words.dimensions[key] ?? key;
  const dimensions = needs.dimensions.map((key): DesignNeed => {
    const has = known.has(key);
    const near = has ? [] : [...known].slice(0, MOST_NEAR).map((d) => ({ key: d, label: name(d) }));
    return { key, label: name(key), there: has, near };
  });
  return { metrics, dimensions };
}
