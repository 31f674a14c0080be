import type { Feed, RouteName } from '@chronicon/core/contract';
import { datasetStates } from '../facts/factStore.ts';
import { FeedError } from '../feeds/connector.ts';
import { feedKinds, feedLabel } from '../feeds/registry.ts';
import { sessionOf } from '../feeds/sync.ts';
import { createFeed, feedsOf, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { theClient, theFeed } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { atField } from './refusal.ts';

async function describe(api: Api, feeds: StoredFeed[]): Promise<Feed[]> {
  const states = await datasetStates(
    api.facts,
    feeds.map((f) => f.id),
  );
  return feeds.map((f) => ({
    id: f.id,
    name: f.name,
    kind: f.kind,
    account: f.account,
    state: f.state,
    trouble: f.trouble,
    progress: f.progress_done < f.progress_of ? { done: f.progress_done, of: f.progress_of } : null,
    lastSuccess: f.last_success,
    nextSync: f.next_sync,
    datasets: states.filter((s) => s.feedId === f.id).map(({ feedId: _, ...s }) => s),
  }));
}

/** Looks the account up before anything is kept: a wrong number or token is told at its field. */
async function lookUp(api: Api, kind: string, account: string, token: string) {
  try {
    const [, session] = sessionOf(api, kind, account, token);
    return await session.account();
  } catch (error) {
    if (!(error instanceof FeedError)) throw error;
    const field = { refused: 'token', 'unknown-account': 'account' }[error.kind as string] ?? 'kind';
    throw atField(field, error.message);
  }
}

export const feedHandlers: Handlers<Extract<RouteName, `${string}/feed-kinds` | `${string}/feeds${string}`>> = {
  'GET /api/feed-kinds': async ({ api }) =>
    feedKinds(api.config).map(({ kind: k, address }) => ({
      kind: k.kind,
      label: k.label,
      about: k.about,
      available: address !== null,
    })),

  'GET /api/clients/:client/feeds': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return describe(api, await feedsOf(api.store, params.client));
  },

  'POST /api/clients/:client/feeds': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const present = await feedsOf(api.store, client.id);
    if (present.some((f) => f.kind === body.kind && f.account === body.account)) {
      throw atField('account', 'This account is connected to the client already.');
    }
    // Two accounts of one kind would be two answers to every question.
    const same = present.find((f) => f.kind === body.kind);
    if (same) {
      throw atField(
        'kind',
        `${same.name} is this client’s feed of this kind. A second account would not be counted in its figures.`,
      );
    }
    const account = await lookUp(api, body.kind, body.account, body.token);
    if (account.currency !== client.currency) {
      throw atField(
        'account',
        `${account.name} reports money in ${account.currency}, the client in ${client.currency}. Check the number.`,
      );
    }
    if (account.zone !== client.zone) {
      throw atField(
        'account',
        `${account.name} counts days in ${account.zone}, the client in ${client.zone}. Check the number.`,
      );
    }
    const at = api.clock.now();
    const feed = await createFeed(api.store, {
      clientId: client.id,
      kind: body.kind,
      account: body.account,
      name: `${feedLabel(body.kind)}: ${account.site}`,
      secret: api.secrets.seal(body.token),
      at,
    });
    await record(api.store, {
      at,
      actor: session.member.id,
      action: 'feed.connected',
      subject: feed.id,
      detail: { client: client.id, account: account.id, site: account.site },
    });
    api.clockwork.nudge();
    return (await describe(api, [feed]))[0]!;
  },

  'PUT /api/clients/:client/feeds/:feed/token': async ({ api, session, params, body }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    await lookUp(api, feed.kind, feed.account, body.token);
    await updateFeed(api.store, feed.id, { secret: api.secrets.seal(body.token), next_sync: api.clock.now() });
    await record(api.store, { at: api.clock.now(), actor: session.member.id, action: 'feed.token', subject: feed.id });
    api.clockwork.nudge();
    return (await describe(api, [feed]))[0]!;
  },

  'POST /api/clients/:client/feeds/:feed/sync': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    await updateFeed(api.store, feed.id, { next_sync: api.clock.now() });
    api.clockwork.nudge();
    return { done: true };
  },
};
