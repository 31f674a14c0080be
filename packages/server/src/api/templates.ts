import { MOST_TEMPLATES, TEXT } from '@chronicon/core/bounds';
import type { RouteName, TemplateRow } from '@chronicon/core/contract';
import {
  type AskedText,
  bindDocument,
  generalDesign,
  lostOf,
  namedFor,
  STARTERS,
  textsToAsk,
  withoutName,
} from '@chronicon/core/report';
import type { Session } from '../access/sessions.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { createReport, reportById } from '../store/reports.ts';
import { inTransaction, type Store } from '../store/store.ts';
import {
  changeTemplate,
  createTemplate,
  followersCounted,
  nameTemplate,
  removeTemplate,
  type StoredTemplate,
  setFollowed,
  templates,
} from '../store/templates.ts';
import { Written } from '../workers/written.ts';
import { theClient, theReport } from './access.ts';
import { nameOfBlock } from './blockNames.ts';
import type { Handlers } from './context.ts';
import { bound, designOf, fitted, generalisingOf, needsFor } from './designs.ts';
import { letFollow } from './letFollow.ts';
import { withClient } from './looking.ts';
import { nameOfKind, theTemplate } from './templateFollowing.ts';

async function describe(db: Store, { member }: Session, t: StoredTemplate): Promise<TemplateRow & { id: string }> {
  const { total, behind } = await followersCounted(db, { member }, t);
  const { id, name, about, version, updatedAt } = t;
  return { id, starter: null, name, about, version, updatedAt, reports: total, behind };
}

/** Where a text stands, as a person would say it. */
function placeOf({ of, page }: AskedText): string {
  if (of.kind === 'page') return 'Title of a page';
  if (of.kind === 'assumption') return `Name of an assumption, with its value ${of.value}`;
  const kind = nameOfKind(of.block.kind);
  return `${kind}${of.block.kind === 'heading' ? '' : `, ${of.label.toLowerCase()}`} on “${page}”`;
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
    if (all.length >= MOST_TEMPLATES) throw new Refusal(422, `Limit reached: ${MOST_TEMPLATES} templates.`);
    if (all.some((t) => t.name.toLowerCase() === body.name.toLowerCase()))
      throw atField('name', 'A template with this name already exists.');
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
      throw atField('name', 'A template with this name already exists.');
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
        throw atField('report', 'This report doesn’t use the template. Save it as a new template.');
      if (now.template.version < t.version)
        throw new Refusal(409, `“${t.name}” has changed since. Update this report from the template first.`);
      const { binding } = now.template;
      if (Object.keys(binding.metrics).length + Object.keys(binding.dimensions).length > 0)
        throw atField(
          'report',
          'This report replaced metrics of the template. Update the template from a report that uses its metrics.',
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

  'GET /api/templates/:template/following': async ({ api, session: { member }, params, query }) => {
    const asked = { template: params.template, ...query };
    const bytes = await api.reads.run({ name: 'template.following', query: asked, member, now: api.clock.now() });
    return new Written(bytes);
  },

  'POST /api/templates/:template/follow': async ({ api, session, params, body }) => {
    for (const id of body.reports) await theReport(api.store, session.member, id);
    return { followed: await letFollow(api, session, params.template, body) };
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
