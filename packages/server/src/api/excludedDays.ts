import { MOST_EXCLUSIONS } from '@chronicon/core/bounds';
import type { RouteName } from '@chronicon/core/contract';
import { metricBook } from '@chronicon/core/figures';
import type { Session } from '../access/sessions.ts';
import { atField, notFound } from '../platform/refusal.ts';
import {
  type ExcludedDays,
  exclusionsOf,
  namedExclusion,
  removeExclusion,
  saveExclusion,
} from '../store/excludedDays.ts';
import { record } from '../store/ledger.ts';
import { inTransaction } from '../store/store.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';

async function theExclusion(api: Api, clientId: string, id: string): Promise<void> {
  if (!(await exclusionsOf(api.store, clientId)).some((e) => e.id === id)) throw notFound('excluded day');
}

async function keep(api: Api, session: Session, clientId: string, days: ExcludedDays & { id?: string }) {
  const client = await theClient(api.store, session.member, clientId);
  const book = metricBook(client.metrics);
  const unknown = days.metrics.find((key) => !book.has(key));
  if (unknown !== undefined) throw atField('metrics', `Unknown metric: ${unknown}.`);
  const at = api.clock.now();
  const by = { memberId: session.member.id, at };
  const saved = await inTransaction(api.store, async (tx) => {
    if (!days.id && (await exclusionsOf(tx, clientId)).length >= MOST_EXCLUSIONS)
      throw atField('from', `A client has at most ${MOST_EXCLUSIONS} exclusions. Include some days again first.`);
    const kept = await saveExclusion(tx, clientId, days, by);
    const { from, to, metrics, reason } = days;
    const detail = { client: clientId, from, to, metrics, reason };
    await record(tx, { at, actor: session.member.id, action: 'days.excluded', subject: kept.id, detail });
    return kept;
  });
  api.scheduler.nudge();
  return namedExclusion(api.store, saved);
}

export const excludedDaysHandlers: Handlers<Extract<RouteName, `${string}/excluded-days${string}`>> = {
  'GET /api/clients/:client/excluded-days': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return Promise.all((await exclusionsOf(api.store, params.client)).map((e) => namedExclusion(api.store, e)));
  },

  'POST /api/clients/:client/excluded-days': ({ api, session, params, body }) =>
    keep(api, session, params.client, body),

  'PUT /api/clients/:client/excluded-days/:excluded': async ({ api, session, params, body }) => {
    await theClient(api.store, session.member, params.client);
    await theExclusion(api, params.client, params.excluded);
    return keep(api, session, params.client, { ...body, id: params.excluded });
  },

  'DELETE /api/clients/:client/excluded-days/:excluded': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    await theExclusion(api, params.client, params.excluded);
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await removeExclusion(tx, params.client, params.excluded, at);
      const detail = { client: params.client };
      await record(tx, { at, actor: session.member.id, action: 'days.counted', subject: params.excluded, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
