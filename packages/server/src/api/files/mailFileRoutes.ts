import { notFound } from '../../platform/refusal.ts';
import { unreadMail } from '../../store/unreadMails.ts';
import { theClient } from '../access.ts';
import type { Api } from '../context.ts';
import { mailFileOf, takeMailFile } from '../mailFiles.ts';
import { type FileHandlers, param } from './fileHandlers.ts';

/** Files that go with mails, and mails as files. */
export const mailFileRoutes = (
  api: Api,
): FileHandlers<
  'PUT /api/clients/:client/mail-files' | 'GET /api/deliveries/:delivery/mail' | 'GET /api/agency/unread-mails/:mail'
> => ({
  'PUT /api/clients/:client/mail-files': async (req, res, { member }) => {
    const client = await theClient(api.store, member, param(req, 'client'));
    res.json(await takeMailFile(api, client.id, req.body as Buffer, String(req.query.name ?? '')));
  },

  'GET /api/deliveries/:delivery/mail': async (req, res, { member }) => {
    const found = await mailFileOf(api, member, param(req, 'delivery'));
    res.type('message/rfc822').attachment(found.name).send(found.mime);
  },

  'GET /api/agency/unread-mails/:mail': async (req, res) => {
    const raw = await unreadMail(api.store, param(req, 'mail'));
    if (!raw) throw notFound('mail');
    res.type('message/rfc822').attachment('bounce.eml').send(raw);
  },
});
