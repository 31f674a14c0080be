import { MOST_TEMPLATES, TEXT } from '@chronicon/core/bounds';
import type { Follower, RouteName, TemplateRow } from '@chronicon/core/contract';
import {
  type AskedText,
  applyEdits,
  bindDocument,
  type Draft,
  designFor,
  type Edit,
  editsBetween,
  editWords,
  generalDesign,
  lostOf,
  namedFor,
  STARTERS,
  textsToAsk,
  withoutName,
} from '@chronicon/core/report';
import { wordsFor } from '@chronicon/core/words';
import type { Session } from '../access/sessions.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { clientById } from '../store/clients.ts';
import { record } from '../store/ledger.ts';
import { createReport, reportById, type StoredReport, saveReport } from '../store/reports.ts';
import { keepVersion, versionsOf } from '../store/reportVersions.ts';
import { inTransaction, type Store } from '../store/store.ts';
import {
  changeTemplate,
  createTemplate,
  followersOf,
  nameTemplate,
  removeTemplate,
  type StoredTemplate,
  setFollowed,
  templateAt,
  templateById,
  templates,
} from '../store/templates.ts';
import { theClient, theReport } from './access.ts';
import { nameOfBlock } from './blockNames.ts';
import type { Handlers } from './context.ts';
import { bound, designOf, fitted, generalisingOf, needsFor } from './designs.ts';
import { withClient } from './looking.ts';
import { readEdited } from './readEdited.ts';

const english = wordsFor('en-GB');
const nameOf = (kind: string): string => english.blocks[kind] ?? kind;

/** @throws Refusal for a template that is not there */
async function theTemplate(db: Store, id: string): Promise<StoredTemplate> {
  const found = await templateById(db, id);
  if (!found) throw notFound('template');
  return found;
}

async function describe(db: Store, { member }: Session, t: StoredTemplate): Promise<TemplateRow & { id: string }> {
  const reports = await followersOf(db, { member }, t.id);
  const behind = reports.filter((r) => r.version !== null && r.version < t.version).length;
  const { id, name, about, version, updatedAt } = t;
  return { id, starter: null, name, about, version, updatedAt, reports: reports.length, behind };
}

/** The edits by which a report comes from the version of a template that it has to the newest one, as its client has it. */
async function editsFor(db: Store, t: StoredTemplate, { template, clientId }: StoredReport): Promise<Edit[]> {
  if (!template || template.version >= t.version) return [];
  const before = await templateAt(db, t.id, template.version);
  if (!before) return [];
  const { name } = (await clientById(db, clientId))!;
  const asItsClient = ({ title, document }: Draft): Draft => ({
    title,
    document: bindDocument(designFor(document, name), template.binding),
  });
  // What a report is called is its own.
  return editsBetween(asItsClient(before), asItsClient(t)).filter((e) => e.op !== 'title');
}

/** The kept version by which the last following is undone, where it is the newest of them. */
async function undoOf(db: Store, report: StoredReport): Promise<string | null> {
  const [last] = await versionsOf(db, report.id);
  return last?.kind === 'before' && last.name.startsWith(BEFORE) ? last.id : null;
}

/** Where a text stands, as a person would say it. */
function placeOf({ of, page }: AskedText): string {
  if (of.kind === 'page') return 'Title of a page';
  if (of.kind === 'assumption') return `Name of an assumption, with its value ${of.value}`;
  const kind = nameOf(of.block.kind);
  return `${kind}${of.block.kind === 'heading' ? '' : `, ${of.label.toLowerCase()}`} on “${page}”`;
}

const BEFORE = 'Before it followed';

/** What one of several reports refuses, said of that report. */
function inReport<T>(i: number, title: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    throw atField(`reports.${i}`, `“${title}”: ${error.message}`);
  }
}

export const templateHandlers: Handlers<
  Extract<
    RouteName,
    `${string} /api/templates${string}` | `${string}/needs` | `${string}/clone` | `${string}/typed-texts`
  >
> = {
  'GET /api/templates': async ({ api, session }) => [
    ...(await Promise.all((await templates(api.store)).map((t) => describe(api.store, session, t)))),
    ...STARTERS.map(({ key, label, about }) => ({
      id: null,
      starter: key,
      name: label,
      about,
      version: 1,
      updatedAt: null,
      reports: 0,
      behind: 0,
    })),
  ],

  'POST /api/templates': async ({ api, session, body }) => {
    const report = await theReport(api.store, session.member, body.report);
    const all = await templates(api.store);
    if (all.length >= MOST_TEMPLATES) throw new Refusal(422, `There is room for ${MOST_TEMPLATES} templates.`);
    if (all.some((t) => t.name.toLowerCase() === body.name.toLowerCase()))
      throw atField('name', 'There is a template of this name already.');
    const { language } = await withClient(api, report);
    const by = { at: api.clock.now(), by: session.member.id };
    const document = generalDesign(report.document, await generalisingOf(api.store, report), new Set(body.texts));
    const design = { title: body.name, document };
    return inTransaction(api.store, async (tx) => {
      const id = await createTemplate(tx, { name: body.name, about: body.about, language, ...design }, by);
      await setFollowed(tx, report.id, { id, version: 1, binding: { metrics: {}, dimensions: {} } });
      await record(tx, {
        at: by.at,
        actor: by.by,
        action: 'template.made',
        subject: id,
        detail: { report: report.id },
      });
      return { id };
    });
  },

  'GET /api/templates/:template': async ({ api, session, params }) => {
    const t = await theTemplate(api.store, params.template);
    return { ...(await describe(api.store, session, t)), title: t.title, document: t.document };
  },

  'PUT /api/templates/:template': async ({ api, session, params, body }) => {
    const { id } = await theTemplate(api.store, params.template);
    if ((await templates(api.store)).some((t) => t.id !== id && t.name.toLowerCase() === body.name.toLowerCase()))
      throw atField('name', 'There is a template of this name already.');
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await nameTemplate(tx, id, body);
      await record(tx, { at, actor: session.member.id, action: 'template.named', subject: id });
    });
    return { done: true };
  },

  'DELETE /api/templates/:template': async ({ api, session, params }) => {
    const { id, name } = await theTemplate(api.store, params.template);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await removeTemplate(tx, id);
      await record(tx, { at, actor: session.member.id, action: 'template.removed', subject: id, detail: { name } });
    });
    return { done: true };
  },

  'POST /api/templates/:template/take': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, body.report);
    const by = { at: api.clock.now(), by: session.member.id };
    return inTransaction(api.store, async (tx) => {
      const t = await theTemplate(tx, params.template);
      const now = (await reportById(tx, report.id))!;
      if (now.template?.id !== t.id)
        throw atField('report', 'This report does not follow the template. Make a template of its own from it.');
      if (now.template.version < t.version)
        throw new Refusal(
          409,
          `“${t.name}” was changed since this report followed it: taking it now would undo that. Let it follow first, then take it.`,
        );
      const { binding } = now.template;
      if (Object.keys(binding.metrics).length + Object.keys(binding.dimensions).length > 0)
        throw atField(
          'report',
          'This report has other metrics in the place of the template’s: take the change from one that has the template’s own.',
        );
      const document = generalDesign(now.document, await generalisingOf(tx, now), new Set(body.texts));
      const version = await changeTemplate(tx, t, { title: t.title, document }, by);
      await setFollowed(tx, now.id, { id: t.id, version, binding });
      await record(tx, {
        at: by.at,
        actor: by.by,
        action: 'template.changed',
        subject: t.id,
        detail: { report: now.id },
      });
      return { version };
    });
  },

  'GET /api/templates/:template/following': async ({ api, session, params }) => {
    const t = await theTemplate(api.store, params.template);
    const followers = await followersOf(api.store, session, t.id);
    return Promise.all(
      followers.map(async ({ id, clientId, client, title }): Promise<Follower> => {
        const report = (await reportById(api.store, id))!;
        const said = editWords(report, await editsFor(api.store, t, report), nameOf);
        const version = report.template?.version ?? t.version;
        const undo = version === t.version ? await undoOf(api.store, report) : null;
        return { report: id, title, client: { id: clientId, name: client }, version, ...said, undo };
      }),
    );
  },

  'POST /api/templates/:template/follow': async ({ api, session, params, body }) => {
    for (const id of body.reports) await theReport(api.store, session.member, id);
    const [at, by] = [api.clock.now(), session.member.id];
    const followed = await inTransaction(api.store, async (tx) => {
      const t = await theTemplate(tx, params.template);
      if (t.version !== body.version)
        throw new Refusal(
          409,
          'The template was changed meanwhile. Look at what it changes now, then let them follow.',
        );
      const done: { report: string; kept: string }[] = [];
      for (const [i, id] of body.reports.entries()) {
        const report = (await reportById(tx, id))!;
        if (report.template?.id !== t.id)
          throw atField(`reports.${i}`, `“${report.title}” does not follow this template.`);
        if (report.template.version >= t.version) continue;
        const { draft } = applyEdits(report, await editsFor(tx, t, report));
        const name = `${BEFORE} “${t.name}”`;
        const kept = await keepVersion(tx, report, { kind: 'before', name, at, by });
        const { title } = report;
        const document = inReport(i, title, () => readEdited(draft.document));
        await saveReport(tx, { id, title, document, version: report.version, at });
        await setFollowed(tx, id, { id: t.id, version: t.version, binding: report.template.binding });
        await record(tx, { at, actor: by, action: 'report.followed', subject: id, detail: { template: t.id } });
        done.push({ report: id, kept });
      }
      return done;
    });
    return { followed };
  },

  'POST /api/clients/:client/needs': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { document } = await designOf(api, session, client, body);
    const needs = await needsFor(api, client, document);
    const { dropped } = await fitted(api, client, bindDocument(document, body.binding), body);
    return { ...needs, drops: dropped.map(({ block, page }) => ({ name: nameOfBlock(block, client), page })) };
  },

  'GET /api/reports/:report/typed-texts': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    const texts = textsToAsk(report.document, await generalisingOf(api.store, report));
    return {
      texts: texts.map((t) => ({ text: t.text, where: placeOf(t), namesClient: t.namesClient })),
      lost: lostOf(report.document),
    };
  },

  'POST /api/reports/:report/clone': async ({ api, session, params, body }) => {
    const report = await theReport(api.store, session.member, params.report);
    const at = api.clock.now();
    const clients = await Promise.all(body.clients.map((id) => theClient(api.store, session.member, id)));
    const own = await withClient(api, report);
    const made = [];
    for (const client of clients) {
      const design = await designOf(api, session, client, { report: report.id, texts: body.texts });
      const { document, template } = bound(design, report.template?.binding ?? { metrics: {}, dimensions: {} });
      const needs = await needsFor(api, client, document);
      const id = await inTransaction(api.store, async (tx) => {
        const title = namedFor(withoutName(body.title ?? report.title, own.name), client.name, TEXT.title);
        const { id } = await createReport(tx, {
          clientId: client.id,
          title,
          document,
          at,
          template: template ?? undefined,
        });
        await record(tx, { at, actor: session.member.id, action: 'report.created', subject: id });
        return id;
      });
      const missing = needs.metrics.filter((m) => !m.there).map((m) => m.label);
      made.push({ client: client.id, report: id, missing });
    }
    return { made };
  },
};
