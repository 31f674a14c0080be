import type { RouteName } from '@chronicon/core/contract';
import { dropScheduleDraft, keepScheduleDraft, scheduleDraft } from '../store/scheduleDrafts.ts';
import { theClient } from './access.ts';
import type { Handlers } from './context.ts';

/** What somebody has begun of a schedule: kept for that member alone. */
export const scheduleDraftHandlers: Handlers<Extract<RouteName, `${string}/schedule-draft`>> = {
  'GET /api/clients/:client/schedule-draft': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    return { draft: await scheduleDraft(api.store, session.member.id, client.id) };
  },

  'PUT /api/clients/:client/schedule-draft': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const draft = { input: body.input, savedAt: api.clock.now() };
    await keepScheduleDraft(api.store, session.member.id, client.id, draft);
    return { done: true };
  },

  'DELETE /api/clients/:client/schedule-draft': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    await dropScheduleDraft(api.store, session.member.id, client.id);
    return { done: true };
  },
};
