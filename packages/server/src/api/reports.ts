import { type Range, wallClock } from '@chronicon/core/calendar';
import { type BrandInput, MANAGERS, type RouteName } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import {
  type AgencyBrand,
  applyEdits,
  documentFaults,
  FRESH_MAIL,
  type MailDesign,
  type OrderSheet,
  ownOfSchedule,
  pictureFiles,
  type ReaderRef,
  type ReportDocument,
  STARTERS,
  settleBrand,
  settleDates,
  writableOf,
} from '@chronicon/core/report';
import { describeLacks, formatterOf, LOCALES, wordsFor } from '@chronicon/core/words';
import { uniquesFor } from '../feeds/uniques.ts';
import { knowledgeOf } from '../figures/reading.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { questionsFor } from '../render/draw.ts';
import { contactsByIds, type StoredClient } from '../store/clients.ts';
import { commentaryFor, releaseWords, writeCommentary } from '../store/commentaries.ts';
import { addEdition } from '../store/editions.ts';
import { feedsOf } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { agencyOf } from '../store/members.ts';
import { hasPictures } from '../store/pictures.ts';
import { createReport, releaseReport, reportById, reportsOf, type StoredReport, saveReport } from '../store/reports.ts';
import { nextRunsOf } from '../store/runs.ts';
import { schedulesOfReport } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { fetchPictures } from '../workers/itemPictures.ts';
import { Written } from '../workers/written.ts';
import { theClient, theReport } from './access.ts';
import type { ComposingRoute } from './composing.ts';
import type { Api, Handlers } from './context.ts';
import { bound, designOf, fitted } from './designs.ts';
import { readersOfPlan } from './lookAhead.ts';
import { lookAt, orderOfLook, type ResolvedLook, withClient, writtenFor } from './looking.ts';
import type { MailRoute } from './mails.ts';
import { readEdited } from './readEdited.ts';
import { describeReport, releasingOf } from './releasing.ts';
import { picturesShown, previewWithPictures } from './shownPictures.ts';
import { checkTypefaces } from './typefaces.ts';
import { checkWorking } from './working.ts';

/** The mail of an edition that no schedule words, in the client's language. */
export const defaultMail = (
  client: Pick<StoredClient, 'language'>,
): Pick<OrderSheet, 'subject' | 'message'> & { mail: MailDesign } => {
  const { subject, greeting } = wordsFor(client.language).mail;
  return { subject, message: greeting, mail: FRESH_MAIL };
};

/** What a mail says unless it is worded otherwise, in every language. */
export const MAIL_TEXTS = [...new Set(LOCALES.map((l) => l.value.split('-')[0]!))].map((language) => {
  const { subject, message } = defaultMail({ language });
  return { language, subject, message };
});

/** An edition made by hand, outside any run of a schedule; it has an id of its own (SEMANTICS §10). */
export async function makeNow(
  api: Api,
  report: StoredReport,
  by: { memberId: string; kind: 'by-hand' | 'test' } & (
    | { sheet: OrderSheet }
    | { readers: ReaderRef[]; looked: ResolvedLook; draft?: boolean }
  ),
): Promise<string> {
  const client = await withClient(api, report);
  const isDraft = 'looked' in by && by.draft === true;
  // A test to oneself is no report that goes out.
  if (by.kind !== 'test') checkWorking(client);
  if (!isDraft && report.release === null) {
    throw new Refusal(422, 'Release this report before sending it.');
  }
  const at = api.clock.now();
  const orders: OrderSheet =
    'sheet' in by
      ? by.sheet
      : {
          title: isDraft ? report.title : report.release!.title,
          ...(isDraft && { draft: true as const }),
          period: by.looked.period,
          comparison: by.looked.comparison,
          ...ownOfSchedule(by.looked),
          asOf: by.looked.asOf,
          readers: by.readers,
          ...defaultMail(client),
        };
  const id = await addEdition(api.store, {
    clientId: client.id,
    reportId: report.id,
    kind: by.kind,
    scheduleId: null,
    nominal: null,
    orders,
    dates: settleDates(orders.period, orders.comparison, orders.asOf, client),
    state: 'planned',
    reason: null,
    dueAt: at,
    nextAt: at,
    madeBy: by.memberId,
    at,
  });
  api.scheduler.nudge();
  return id!;
}

/**
 * Refuses a design that newly asks for what the client's metrics cannot answer, at the choice that does. What it asked for
 * before and is gone since keeps nobody from changing the rest: the page says so in its place.
 */
async function checkDocument(
  db: Store,
  document: ReportDocument,
  client: StoredClient,
  before: ReportDocument,
): Promise<void> {
  const book = metricBook(client.metrics);
  const known = new Set(documentFaults(before, book).map((f) => `${f.block} ${f.message}`));
  const fault = documentFaults(document, book).find((f) => !known.has(`${f.block} ${f.message}`));
  if (fault) throw atField(`document.${fault.path}`, fault.message);
  await checkPictures(db, document, client);
}

/** Refuses files that are not this client's: whoever knows a hash has not seen the picture. */
async function checkPictures(db: Store, document: ReportDocument, client: StoredClient): Promise<void> {
  if (await hasPictures(db, client.id, pictureFiles(document))) return;
  throw atField('document', 'A picture of the report isn’t available for this client. Upload it again.');
}

/** A client's brand as it would be by a kit of its own, or of the agency's, that is being chosen. */
async function brandAsked(api: Api, client: StoredClient, own?: BrandInput, ofAgency?: Partial<AgencyBrand>) {
  const { settings } = (await agencyOf(api.store))!;
  const brand = own ? { ...client.brand, ...own, follows: own.follows ?? [] } : client.brand;
  return settleBrand(brand, { ...settings.brand, ...ofAgency });
}

export const reportHandlers: Handlers<
  Exclude<
    Extract<RouteName, 'GET /api/starters' | `${string}/reports${string}`>,
    ComposingRoute | MailRoute | `${string}/clone` | `${string}/typed-texts` | 'DELETE /api/reports/:report'
  >
> = {
  'GET /api/starters': async () => STARTERS.map(({ key, label, about }) => ({ key, label, about })),

  'GET /api/clients/:client/reports': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    const reports = await reportsOf(api.store, params.client);
    return Promise.all(
      reports.map(async (r) => {
        const { document: _, ...rest } = await describeReport(api.store, r);
        const { period, comparison, filter = [] } = r.release?.document ?? r.document;
        const schedules = (await schedulesOfReport(api.store, r.id)).length;
        return { ...rest, design: { period, comparison, filter: [...filter] }, schedules };
      }),
    );
  },

  'POST /api/clients/:client/reports': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const at = api.clock.now();
    const { document: whole, template } = bound(await designOf(api, session, client, body), body.binding);
    const { document } = await fitted(api, client, whole, body);
    return inTransaction(api.store, async (tx) => {
      const report = await createReport(tx, {
        clientId: client.id,
        title: body.title,
        document,
        at,
        template: template ?? undefined,
      });
      await record(tx, { at, actor: session.member.id, action: 'report.created', subject: report.id });
      return describeReport(tx, report);
    });
  },

  'GET /api/reports/:report': async ({ api, session, params }) =>
    describeReport(api.store, await theReport(api.store, session.member, params.report)),

  'PUT /api/reports/:report': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    await checkDocument(api.store, body.document, await withClient(api, report), report.document);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      if (!(await saveReport(tx, { id: report.id, ...body, at }))) {
        throw new Refusal(409, 'Someone else saved this report. Reload it; your text is still here to copy.');
      }
      await record(tx, { at, actor: session.member.id, action: 'report.saved', subject: report.id });
    });
    return describeReport(api.store, (await reportById(api.store, report.id))!);
  },

  'POST /api/reports/:report/edits': async ({ api, session, params, body }) => {
    const { id } = await theReport(api.store, session.member, params.report);
    const at = api.clock.now();
    return inTransaction(api.store, async (tx) => {
      const report = (await reportById(tx, id))!;
      const { draft, gone } = applyEdits(report, body.edits);
      if (gone.length > 0) {
        const message = 'Someone deleted what you were editing. Showing the latest version.';
        throw new Refusal(409, message, Object.fromEntries(gone.map((i) => [`edits.${i}`, message])));
      }
      const document = readEdited(draft.document);
      await checkDocument(tx, document, await withClient(api, report), report.document);
      const { title } = draft;
      const same = title === report.title && JSON.stringify(document) === JSON.stringify(report.document);
      // Edits that came twice, over a line that broke, are saved once.
      if (!same) {
        await saveReport(tx, { id, title, document, version: report.version, at });
        await record(tx, { at, actor: session.member.id, action: 'report.saved', subject: id });
      }
      return {
        version: same ? report.version : report.version + 1,
        updatedAt: same ? report.updatedAt : at,
        now: body.version === report.version ? null : { title, document },
      };
    });
  },

  'POST /api/reports/:report/preview': async ({ api, session, params, body }) => {
    const saved = await theReport(api.store, session.member, params.report);
    const client = await withClient(api, saved);
    const report = { ...saved, title: body.title ?? saved.title, document: body.document ?? saved.document };
    await checkPictures(api.store, report.document, client);
    const looked = await orderOfLook(api, report, client, await lookAt(api, report, client, body.look));
    await checkTypefaces(api.store, body.brand?.typefaces);
    await checkTypefaces(api.store, body.agencyBrand?.typefaces);
    const brand = (body.brand ?? body.agencyBrand) && (await brandAsked(api, client, body.brand, body.agencyBrand));
    const order = brand ? { ...looked, brand } : looked;
    const drawn = await previewWithPictures(api, report.id, order, body.have, body.pages ?? null);
    const english = formatterOf('en-GB', client.currency);
    const named = (r: { from: string; to: string }) => ({ ...r, label: english.range(r), dates: english.dates(r) });
    const reply = {
      lang: drawn.lang,
      rest: drawn.rest,
      period: named(order.period),
      compared: order.compared && named(order.compared),
      lacks: [
        ...describeLacks(drawn.lacks, await feedsOf(api.store, client.id), english, metricBook(client.metrics)),
        ...drawn.remarks,
        ...drawn.troubles.map((why) => `A picture couldn’t be loaded and is left blank. ${why}`),
      ],
      commentary: await writtenFor(api, report, client, order.period),
      uncounted: drawn.wants.length > 0 || drawn.lacks.some((l) => l.kind === 'uncounted'),
    };
    return Written.with(reply, 'pages', drawn.pages);
  },

  'POST /api/reports/:report/count': async ({ api, session, params, body }) => {
    const saved = await theReport(api.store, session.member, params.report);
    const client = await withClient(api, saved);
    const report = { ...saved, document: body.document ?? saved.document };
    const order = await orderOfLook(api, report, client, await lookAt(api, report, client, body.look));
    const [counted, pictures] = await Promise.all([
      uniquesFor(api, client.id, questionsFor(order), knowledgeOf(order)),
      fetchPictures(api, client.id, picturesShown(report.id)),
    ]);
    return { asked: counted + pictures };
  },

  'GET /api/reports/:report/runs': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    const english = formatterOf('en-GB', (await withClient(api, report)).currency);
    const schedules = await schedulesOfReport(api.store, report.id);
    const ids = schedules.map((s) => s.id);
    const next = await nextRunsOf(api.store, ids, api.clock.now(), 4);
    const labelled = (r: Range) => ({ ...r, label: english.range(r) });
    const runs = schedules.flatMap((s) =>
      next.get(s.id)!.map(({ nominal, at, period, compared }) => ({
        schedule: s.id,
        nominal,
        at,
        local: wallClock(at, s.zone),
        zone: s.zone,
        period: labelled(period),
        compared: compared && labelled(compared),
        readers: readersOfPlan(s).length,
      })),
    );
    return runs.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0)).slice(0, 8);
  },

  'PUT /api/reports/:report/commentary': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    if (!writableOf(report.document).includes(body.block)) {
      throw atField('block', 'This report has no such commentary. Reload the page.');
    }
    const { block, from, to, text, before, release } = body;
    if (release && !MANAGERS.includes(session.member.role))
      throw new Refusal(403, 'You can write it; a manager or owner must release it.');
    const [at, by] = [api.clock.now(), session.member.id];
    const over = await inTransaction(api.store, async (tx) => {
      const stored = (await commentaryFor(tx, report.id, { from, to }, 'draft'))[block] ?? '';
      await writeCommentary(tx, { reportId: report.id, block, period: { from, to }, text, at, by });
      await record(tx, { at, actor: by, action: 'commentary.written', subject: report.id, detail: { from, to } });
      if (release) {
        await releaseWords(tx, { reportId: report.id, block, period: { from, to }, at });
        await record(tx, { at, actor: by, action: 'commentary.released', subject: report.id, detail: { from, to } });
      }
      // Where somebody else has written meanwhile, the later words stand, and the other ones are handed over.
      return before !== undefined && stored !== before && stored !== text && stored.trim() !== '' ? stored : null;
    });
    if (release) api.scheduler.nudge();
    return { over };
  },

  'GET /api/reports/:report/release': async ({ api, session, params }) =>
    releasingOf(api, await theReport(api.store, session.member, params.report)),

  'POST /api/reports/:report/release': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    const [at, by] = [api.clock.now(), session.member.id];
    const releasing = await releasingOf(api, report);
    await inTransaction(api.store, async (tx) => {
      if (!(await releaseReport(tx, { id: report.id, version: body.version, at, by }))) {
        throw new Refusal(409, 'Someone else saved this report. Reload, review and then release it.');
      }
      await record(tx, { at, actor: by, action: 'report.released', subject: report.id });
    });
    api.scheduler.nudge();
    return { report: await describeReport(api.store, (await reportById(api.store, report.id))!), releasing };
  },

  'POST /api/reports/:report/test': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    const looked = await lookAt(api, report, await withClient(api, report), body.look);
    const memberId = session.member.id;
    const by = { memberId, kind: 'test' as const, readers: [{ member: memberId }], looked, draft: true };
    return { editionId: await makeNow(api, report, by) };
  },

  'POST /api/reports/:report/make': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    const contacts = await contactsByIds(api.store, report.clientId, body.contacts);
    if (contacts.length !== body.contacts.length) throw atField('contacts', 'Choose this client’s contacts only.');
    return {
      editionId: await makeNow(api, report, {
        memberId: session.member.id,
        kind: 'by-hand',
        readers: contacts.map((c) => ({ contact: c.id })),
        looked: await lookAt(api, report, await withClient(api, report), body.look),
      }),
    };
  },
};
