import { join } from 'node:path';
import { fileNameOf } from '@chronicon/core/report';
import { notFound, Refusal } from '../../platform/refusal.ts';
import { feedByDropKey } from '../../store/feeds.ts';
import { importById } from '../../store/imports.ts';
import { theClient, theFeed } from '../access.ts';
import type { Api } from '../context.ts';
import { describeImport } from '../imports.ts';
import { sendFile } from '../sendFile.ts';
import { dropHash, takeUpload } from '../uploads.ts';
import { type FileHandlers, param } from './fileHandlers.ts';

/** Files of figures as they come in, and what was set aside of them. */
export const importFiles = (
  api: Api,
): FileHandlers<
  'PUT /api/clients/:client/imports' | 'GET /api/clients/:client/imports/:import/rejects' | 'PUT /api/drop/:key/:name'
> => ({
  'PUT /api/clients/:client/imports': async (req, res, { member }) => {
    const client = await theClient(api.store, member, param(req, 'client'));
    const feed = req.query.feed === undefined ? null : String(req.query.feed);
    if (feed !== null) await theFeed(api.store, member, client.id, feed);
    const about = { clientId: client.id, feedId: feed, source: 'dropped', madeBy: member.id } as const;
    const taken = await takeUpload(api, req, { ...about, name: req.query.name });
    res.json(await describeImport(api, taken, null));
  },

  'GET /api/clients/:client/imports/:import/rejects': async (req, res, { member }) => {
    await theClient(api.store, member, param(req, 'client'));
    const found = await importById(api.store, param(req, 'import'));
    if (found?.clientId !== param(req, 'client') || found.rejects === null) throw notFound('list');
    res.type('text/csv').attachment(fileNameOf(['set aside from', found.fileName], 'csv'));
    await sendFile(res, join(api.config.data, found.rejects), 'list');
  },

  'PUT /api/drop/:key/:name': async (req, res) => {
    const feed = await feedByDropKey(api.store, dropHash(param(req, 'key')));
    if (!feed) throw new Refusal(401, 'Invalid or expired link.');
    const about = { clientId: feed.client_id, feedId: feed.id, source: 'put', madeBy: null } as const;
    const taken = await takeUpload(api, req, { ...about, name: param(req, 'name') });
    const { state, problem } = taken;
    if (state === 'refused') throw new Refusal(422, problem ?? 'The file could not be read.');
    const said = state === 'asking' ? 'It needs review first.' : 'It is being imported.';
    res.status(202).json({ import: taken.id, message: said });
  },
});
