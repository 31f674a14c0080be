import type { RouteName } from '@chronicon/core/contract';
import { FOLLOWING } from '@chronicon/core/edition';
import { Refusal } from '../platform/refusal.ts';
import { clientById } from '../store/clients.ts';
import { patchEdition } from '../store/editions.ts';
import { record } from '../store/ledger.ts';
import { mailFilesOf } from '../store/mailFiles.ts';
import { inTransaction } from '../store/store.ts';
import { theClient, theEdition, theReport } from './access.ts';
import type { Handlers } from './context.ts';
import { mailPartsOf, previewMail } from './mailPreview.ts';
import { mailOfEdition } from './mailShown.ts';
import { detailsOf, resend } from './resend.ts';
import { checkWorking } from './working.ts';

/** Routes to mails, and to what became of them. */
export type MailRoute = Extract<
  RouteName,
  | `${string}/schedules/mail`
  | `${string}/mail-parts`
  | `GET ${string}/mail-files`
  | `${string}/mails/:reader`
  | 'PUT /api/editions/:edition/note'
  | `${string}/deliveries`
  | `${string}/resend`
>;

export const mailHandlers: Handlers<MailRoute> = {
  'POST /api/clients/:client/schedules/mail': async ({ api, session, params, body }) =>
    previewMail(api, await theClient(api.store, session.member, params.client), body),

  'GET /api/reports/:report/mail-parts': async ({ api, session, params }) => {
    const report = await theReport(api.store, session.member, params.report);
    return mailPartsOf(report, (await clientById(api.store, report.clientId))!);
  },

  'GET /api/clients/:client/mail-files': async ({ api, session, params }) =>
    mailFilesOf(api.store, (await theClient(api.store, session.member, params.client)).id),

  'GET /api/editions/:edition/mails/:reader': async ({ api, session, params, query }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    return mailOfEdition(api, e, params.reader, query.scheme);
  },

  'PUT /api/editions/:edition/note': async ({ api, session, params, body }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    checkWorking((await clientById(api.store, e.client_id))!);
    if (!FOLLOWING.includes(e.state) || e.approval_id !== null) {
      throw new Refusal(409, 'This edition is approved or being sent, so its emails can’t change.');
    }
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await patchEdition(tx, e, { mail_note: body.note });
      await record(tx, { at, actor: session.member.id, action: 'edition.note', subject: e.id });
    });
    return { done: true };
  },

  'GET /api/editions/:edition/deliveries': async ({ api, session, params }) =>
    detailsOf(api, await theEdition(api.store, session.member, params.edition)),

  'POST /api/editions/:edition/resend': async ({ api, session, params, body }) => {
    const e = await theEdition(api.store, session.member, params.edition);
    const mails = await resend(api, e, body.readers, session.member.id);
    api.scheduler.nudge();
    return { mails };
  },
};
