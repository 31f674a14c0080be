import type { RouteName, TargetInput } from '@chronicon/core/contract';
import { type MetricBook, targetAdds } from '@chronicon/core/figures';
import { figuresOf } from '../figures/ask.ts';
import { progressOf } from '../figures/progress.ts';
import { atField, notFound } from '../platform/refusal.ts';
import { record } from '../store/ledger.ts';
import { inTransaction } from '../store/store.ts';
import { removeTarget, sameTarget, saveTarget, targetsOf } from '../store/targets.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';

/** A unique has no parts and no pace; a sum on one date has no beginning. */
function checkTarget(input: TargetInput, book: MetricBook): void {
  if (!book.has(input.metric)) throw atField('metric', `Unknown metric: ${input.metric}.`);
  if (input.span === 'date' && targetAdds(book.lookup(input.metric), book.lookup)) {
    throw atField('span', 'This metric is a sum over days: set its target for a month, a quarter or a year.');
  }
}

async function save(api: Api, clientId: string, memberId: string, input: TargetInput, id?: string) {
  const same = await sameTarget(api.store, clientId, input);
  if (same && same.id !== id) {
    throw atField(input.span === 'date' ? 'on' : 'from', 'This target already exists. Change that one.');
  }
  const at = api.clock.now();
  await inTransaction(api.store, async (tx) => {
    const saved = await saveTarget(tx, clientId, input, at, id);
    await record(tx, { at, actor: memberId, action: 'target.saved', subject: saved.id, detail: { client: clientId } });
  });
  api.scheduler.nudge();
  return { done: true } as const;
}

export const targetHandlers: Handlers<Extract<RouteName, `${string}/targets${string}`>> = {
  'GET /api/clients/:client/targets': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const figures = await figuresOf(api, client);
    return progressOf(api, figures, await targetsOf(api.store, client.id));
  },

  'POST /api/clients/:client/targets': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    checkTarget(body, (await figuresOf(api, client)).knowledge.book);
    return save(api, client.id, session.member.id, body);
  },

  'PUT /api/clients/:client/targets/:target': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!(await targetsOf(api.store, client.id)).some((t) => t.id === params.target)) throw notFound('target');
    checkTarget(body, (await figuresOf(api, client)).knowledge.book);
    return save(api, client.id, session.member.id, body, params.target);
  },

  'DELETE /api/clients/:client/targets/:target': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!(await targetsOf(api.store, client.id)).some((t) => t.id === params.target)) throw notFound('target');
    const at = api.clock.now();
    await inTransaction(api.store, async (tx) => {
      await removeTarget(tx, client.id, params.target, at);
      const detail = { client: client.id };
      await record(tx, { at, actor: session.member.id, action: 'target.removed', subject: params.target, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },
};
