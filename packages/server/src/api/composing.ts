import type { RouteName } from '@chronicon/core/contract';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { enterWindow, leaveWindow, othersAt } from '../store/presence.ts';
import { reportById, saveReport } from '../store/reports.ts';
import { keepVersion, nameVersion, type StoredVersion, versionById, versionsOf } from '../store/reportVersions.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { setFollowed } from '../store/templates.ts';
import { theReport } from './access.ts';
import type { Handlers } from './context.ts';
import { readEdited } from './readEdited.ts';

/** Routes of the composer that are not about a report as it goes out: who is there, and what it was. */
export type ComposingRoute = Extract<RouteName, `${string}/reports/:report/${'here' | 'versions'}${string}`>;

/** @throws Refusal for a version that this report does not have */
async function theVersion(db: Store, report: string, id: string): Promise<StoredVersion> {
  const found = await versionById(db, report, id);
  if (!found) throw notFound('version');
  return found;
}

const meanwhile = () => new Refusal(409, 'Someone else saved this report. Review their version and try again.');

export const composingHandlers: Handlers<ComposingRoute> = {
  'PUT /api/reports/:report/here': async ({ api, session, params, body }) => {
    const { id, version, title, document } = await theReport(api.store, session.member, params.report);
    const { window, block } = body;
    const [now, member] = [api.clock.now(), session.member.id];
    if (body.leaving) await leaveWindow(api.store, id, member, window);
    else await enterWindow(api.store, { report: id, member, window, block, now });
    return {
      others: await othersAt(api.store, id, window, now),
      version,
      now: version === body.version ? null : { title, document },
    };
  },

  'GET /api/reports/:report/versions': async ({ api, session, params }) =>
    versionsOf(api.store, (await theReport(api.store, session.member, params.report)).id),

  'POST /api/reports/:report/versions': async ({ api, session, params, body }) => {
    const { id } = await theReport(api.store, session.member, params.report);
    if (body.name === '') throw atField('name', 'Enter a version name.');
    const [at, by] = [api.clock.now(), session.member.id];
    return inTransaction(api.store, async (tx) => {
      const report = (await reportById(tx, id))!;
      if (report.version !== body.version) throw meanwhile();
      const kept = await keepVersion(tx, report, { kind: 'kept', name: body.name, at, by });
      await record(tx, { at, actor: by, action: 'report.kept', subject: id, detail: { name: body.name } });
      return { id: kept };
    });
  },

  'GET /api/reports/:report/versions/:kept': async ({ api, session, params }) => {
    const { id } = await theReport(api.store, session.member, params.report);
    const { document, ...found } = await theVersion(api.store, id, params.kept);
    const row = (await versionsOf(api.store, id)).find((v) => v.id === found.id)!;
    return { ...row, document };
  },

  'PUT /api/reports/:report/versions/:kept': async ({ api, session, params, body }) => {
    const { id } = await theReport(api.store, session.member, params.report);
    const version = await theVersion(api.store, id, params.kept);
    if (body.name === '' && version.kind !== 'release') throw atField('name', 'Enter a version name.');
    await nameVersion(api.store, version.id, body.name);
    return { done: true };
  },

  'POST /api/reports/:report/versions/:kept/restore': async ({ api, session, params, body }) => {
    const { id } = await theReport(api.store, session.member, params.report);
    const [at, by] = [api.clock.now(), session.member.id];
    return inTransaction(api.store, async (tx) => {
      const report = (await reportById(tx, id))!;
      const version = await theVersion(tx, id, params.kept);
      if (report.version !== body.version) throw meanwhile();
      const said = version.name === '' ? 'another version' : `“${version.name}”`;
      const kept = await keepVersion(tx, report, { kind: 'before', name: `Before restoring ${said}`, at, by });
      const { title, document, templateVersion } = version;
      await saveReport(tx, { id, title, document: readEdited(document), version: report.version, at });
      // It follows its template from where it was then.
      if (report.template && templateVersion !== null)
        await setFollowed(tx, id, { ...report.template, version: templateVersion });
      await record(tx, { at, actor: by, action: 'report.restored', subject: id, detail: { version: version.id } });
      return { version: report.version + 1, kept };
    });
  },
};
