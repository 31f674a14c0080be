import { type ComparisonSpec, civilDateAt, type PeriodSpec } from '@chronicon/core/calendar';
import type { RouteName } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import { documentFaults, documentFrom, type ReportDocument, STARTERS } from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import { settleDates } from '../clockwork/dates.ts';
import { describeLacks } from '../clockwork/lacks.ts';
import { orderBasis } from '../clockwork/orderBasis.ts';
import { uniquesFor } from '../feeds/uniques.ts';
import { type DrawOrder, formatterOf, knowledgeOf, questionsFor } from '../press/draw.ts';
import { clientById, contactsByIds, type StoredClient } from '../store/clients.ts';
import { addEdition, type ReaderRef } from '../store/editions.ts';
import { feedsOf } from '../store/feeds.ts';
import { newId } from '../store/ids.ts';
import { record } from '../store/ledger.ts';
import { createReport, reportById, reportsOf, type StoredReport, saveReport } from '../store/reports.ts';
import { theClient, theReport } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { atField, Refusal } from './refusal.ts';

/** The mail of an edition that no schedule words. */
export const DEFAULT_MAIL = {
  subject: '{{report.title}}: {{period.label}}',
  message:
    'Hello {{contact.firstName | there}},\n\nattached is {{report.title}} for {{period.label}}.\n\nKind regards\n{{manager.name}}, {{agency.name}}',
};

/** An edition made at once, outside any run of a schedule; it has an id of its own (SEMANTICS §10). */
export async function makeNow(
  api: Api,
  report: StoredReport,
  by: {
    memberId: string;
    kind: 'by-hand' | 'test';
    readers: ReaderRef[];
    period: PeriodSpec;
    comparison: ComparisonSpec;
    asOf?: string;
    mail?: { subject: string; message: string };
  },
): Promise<string> {
  const client = (await clientById(api.store, report.clientId))!;
  const at = api.clock.now();
  const asOf = by.asOf ?? civilDateAt(at, client.zone);
  const id = await addEdition(api.store, {
    clientId: client.id,
    reportId: report.id,
    kind: by.kind,
    scheduleId: null,
    nominal: null,
    orders: {
      title: report.title,
      period: by.period,
      comparison: by.comparison,
      asOf,
      readers: by.readers,
      ...(by.mail ?? DEFAULT_MAIL),
    },
    dates: settleDates(by.period, by.comparison, asOf, client),
    state: 'planned',
    reason: null,
    dueAt: at,
    nextAt: at,
    madeBy: by.memberId,
    at,
  });
  api.clockwork.nudge();
  return id!;
}

async function previewOrder(api: Api, client: StoredClient, report: StoredReport): Promise<DrawOrder> {
  const asOf = civilDateAt(api.clock.now(), client.zone);
  return {
    ...(await orderBasis(api.store, client)),
    title: report.title,
    document: report.document,
    ...settleDates(report.document.period, report.document.comparison, asOf, client),
    mailMetrics: [],
  };
}

/** Refuses a design that asks for what the client's metrics cannot answer, at the choice that does. */
function checkDocument(document: ReportDocument, client: StoredClient): void {
  const [fault] = documentFaults(document, metricBook(client.metrics));
  if (fault) throw atField(`document.${fault.path}`, fault.message);
}

export const reportHandlers: Handlers<Extract<RouteName, 'GET /api/starters' | `${string}/reports${string}`>> = {
  'GET /api/starters': async () => STARTERS.map(({ key, label, about }) => ({ key, label, about })),

  'GET /api/clients/:client/reports': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return (await reportsOf(api.store, params.client)).map(({ document: _, ...r }) => r);
  },

  'POST /api/clients/:client/reports': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!STARTERS.some((s) => s.key === body.starter))
      throw atField('starter', 'There is no such design to begin with.');
    const at = api.clock.now();
    const document = documentFrom(body.starter, wordsFor(client.language), () => newId('bl'));
    const report = await createReport(api.store, { clientId: client.id, title: body.title, document, at });
    await record(api.store, { at, actor: session.member.id, action: 'report.created', subject: report.id });
    return report;
  },

  'GET /api/reports/:report': async ({ api, session, params }) => theReport(api.store, session.member, params.report),

  'PUT /api/reports/:report': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    checkDocument(body.document, (await clientById(api.store, report.clientId))!);
    const at = api.clock.now();
    if (!(await saveReport(api.store, { id: report.id, ...body, at }))) {
      throw new Refusal(
        409,
        'Somebody else saved this report meanwhile. Load it again; your text is still here to copy.',
      );
    }
    await record(api.store, { at, actor: session.member.id, action: 'report.saved', subject: report.id });
    return (await reportById(api.store, report.id))!;
  },

  'POST /api/reports/:report/preview': async ({ api, session, params, body }) => {
    const saved = await theReport(api.store, session.member, params.report);
    const client = (await clientById(api.store, saved.clientId))!;
    const report = { ...saved, title: body.title ?? saved.title, document: body.document ?? saved.document };
    checkDocument(report.document, client);
    const order = await previewOrder(api, client, report);
    await uniquesFor(api, client.id, questionsFor(order), knowledgeOf(order));
    const drawn = await api.press.preview(order, body.have);
    const english = formatterOf('en-GB', client.currency);
    const named = (r: { from: string; to: string }) => ({ ...r, label: english.range(r), dates: english.dates(r) });
    return {
      lang: drawn.lang,
      pages: drawn.pages,
      period: named(order.period),
      compared: order.compared && named(order.compared),
      lacks: describeLacks(drawn.lacks, await feedsOf(api.store, client.id), english, metricBook(client.metrics)),
    };
  },

  'POST /api/reports/:report/test': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    const { period, comparison } = report.document;
    const readers = [{ member: session.member.id }];
    const by = { memberId: session.member.id, kind: 'test' as const, readers, period, comparison };
    return { editionId: await makeNow(api, report, by) };
  },

  'POST /api/reports/:report/make': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    const contacts = await contactsByIds(api.store, report.clientId, body.contacts);
    if (contacts.length !== body.contacts.length) throw atField('contacts', 'Choose contacts of this client alone.');
    return {
      editionId: await makeNow(api, report, {
        memberId: session.member.id,
        kind: 'by-hand',
        readers: contacts.map((c) => ({ contact: c.id })),
        period: body.period ?? report.document.period,
        comparison: body.comparison ?? report.document.comparison,
      }),
    };
  },
};
