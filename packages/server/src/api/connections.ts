import type { Connection, RouteName } from '@chronicon/core/contract';
import {
  canConfirm,
  describeDifferences,
  differencesFrom,
  type Fingerprint,
  suggestClients,
} from '@chronicon/core/feeds';
import { beginRoundTrip, endRoundTrip } from '../feeds/authorise.ts';
import { FeedError } from '../feeds/connector.ts';
import { feedLabel } from '../feeds/registry.ts';
import { fixedAccess } from '../feeds/services.ts';
import { clientsSeenBy } from '../store/clients.ts';
import {
  connectionById,
  connections,
  createConnection,
  quotaOf,
  type StoredConnection,
  updateConnection,
} from '../store/connections.ts';
import { feedsBy, feedsOf, updateFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { memberById } from '../store/members.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { connectAccount } from './feeds.ts';
import { atField, notFound, Refusal } from './refusal.ts';

async function describe(api: Api, c: StoredConnection): Promise<Connection> {
  return {
    id: c.id,
    kind: c.kind,
    label: feedLabel(c.kind),
    method: c.method,
    madeAt: c.created_at,
    madeBy: c.made_by ? ((await memberById(api.store, c.made_by))?.name ?? null) : null,
    feeds: (await feedsBy(api.store, c.id)).length,
    refused: c.refused,
    quota: quotaOf(c, api.clock.now()),
  };
}

async function theConnection(api: Api, id: string): Promise<StoredConnection> {
  const found = await connectionById(api.store, id);
  if (!found) throw notFound('connection');
  return found;
}

/** Everything that a connection can read. @throws Refusal in the service's own words */
async function accountsOf(api: Api, c: StoredConnection): Promise<Fingerprint[]> {
  try {
    const { service, done } = api.services.open(c, true);
    const accounts = await service.accounts();
    await done();
    return accounts;
  } catch (error) {
    if (!(error instanceof FeedError)) throw error;
    if (error.kind === 'refused') await updateConnection(api.store, c.id, { refused: error.message });
    throw new Refusal(502, error.message);
  }
}

/** Where a service may send the browser back to: this server's own page. */
function checkBack(api: Api, back: string): void {
  const { url } = api.config;
  const to = new URL(back);
  if (to.pathname !== '/connect/back' || (url !== null && new URL(url).origin !== to.origin)) {
    throw atField('back', 'This is not an address of this server.');
  }
}

/** Lets the feeds of a connection go on that the service had refused. */
async function wake(api: Api, connectionId: string): Promise<void> {
  const at = api.clock.now();
  for (const feed of await feedsBy(api.store, connectionId)) {
    if (feed.state === 'troubled') await updateFeed(api.store, feed.id, { next_sync: at });
  }
  api.clockwork.nudge();
}

export const connectionHandlers: Handlers<Extract<RouteName, `${string} /api/connections${string}`>> = {
  'GET /api/connections': async ({ api }) => Promise.all((await connections(api.store)).map((c) => describe(api, c))),

  'POST /api/connections': async ({ api, session, body }) => {
    const { kind, token } = body;
    try {
      await api.services.try(kind, fixedAccess(token)).accounts();
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
      throw atField(error.kind === 'refused' ? 'token' : 'kind', error.message);
    }
    const at = api.clock.now();
    const secret = api.secrets.seal(token);
    const made = await createConnection(api.store, { kind, method: 'token', secret, madeBy: session.member.id, at });
    await record(api.store, { at, actor: session.member.id, action: 'connection.made', subject: made.id });
    return describe(api, made);
  },

  'POST /api/connections/begin': async ({ api, session, body }) => {
    checkBack(api, body.back);
    if (body.connection) await theConnection(api, body.connection);
    try {
      const connectionId = body.connection ?? null;
      const ask = { kind: body.kind, redirect: body.back, memberId: session.member.id, connectionId };
      return { url: await beginRoundTrip(api, ask) };
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
      throw atField('kind', error.message);
    }
  },

  'POST /api/connections/finish': async ({ api, session, body }) => {
    const memberId = session.member.id;
    let ended: Awaited<ReturnType<typeof endRoundTrip>>;
    try {
      ended = await endRoundTrip(api, { ...body, memberId });
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
      throw new Refusal(502, error.message);
    }
    if (!ended) throw new Refusal(422, 'This authorisation was not begun here, or it took too long. Begin it again.');
    const at = api.clock.now();
    const secret = api.secrets.seal(JSON.stringify(ended.tokens));
    const { kind, connectionId } = ended;
    if (connectionId === null) {
      const made = await createConnection(api.store, { kind, method: 'oauth', secret, madeBy: memberId, at });
      await record(api.store, { at, actor: memberId, action: 'connection.made', subject: made.id });
      return describe(api, made);
    }
    await updateConnection(api.store, connectionId, { method: 'oauth', secret, refused: null });
    await record(api.store, { at, actor: memberId, action: 'connection.renewed', subject: connectionId });
    await wake(api, connectionId);
    return describe(api, await theConnection(api, connectionId));
  },

  'GET /api/connections/:connection/accounts': async ({ api, session, params }) => {
    const connection = await theConnection(api, params.connection);
    const accounts = await accountsOf(api, connection);
    const clients = await clientsSeenBy(api.store, session.member);
    const suggestions = suggestClients(accounts, clients);
    const taken = new Map<string, { client: string; name: string }[]>();
    for (const client of clients) {
      for (const feed of await feedsOf(api.store, client.id)) {
        if (feed.kind !== connection.kind) continue;
        taken.set(feed.account, [...(taken.get(feed.account) ?? []), { client: client.id, name: client.name }]);
      }
    }
    return {
      connection: await describe(api, connection),
      accounts: accounts.map((account, i) => {
        const match = suggestions[i];
        return {
          ...account,
          suggested: match
            ? {
                client: match.clientId,
                by: match.by,
                differences: describeDifferences(match.differences),
                canConfirm: canConfirm(match.differences),
              }
            : null,
          takenBy: taken.get(account.id) ?? [],
        };
      }),
    };
  },

  'POST /api/connections/:connection/check': async ({ api, session, params, body }) => {
    const accounts = new Map(
      (await accountsOf(api, await theConnection(api, params.connection))).map((a) => [a.id, a] as const),
    );
    return Promise.all(
      body.links.map(async (link) => {
        const client = await theClient(api.store, session.member, link.client);
        const account = accounts.get(link.account);
        const differences = account ? differencesFrom(client, account) : [];
        return {
          account: link.account,
          differences: describeDifferences(differences),
          canConfirm: canConfirm(differences),
        };
      }),
    );
  },

  'POST /api/connections/:connection/feeds': async ({ api, session, params, body }) => {
    const connection = await theConnection(api, params.connection);
    const accounts = new Map((await accountsOf(api, connection)).map((a) => [a.id, a] as const));
    const results = [];
    for (const link of body.links) {
      const { account: id, confirmed } = link;
      const client = await theClient(api.store, session.member, link.client);
      const account = accounts.get(id);
      try {
        if (!account) throw atField('account', 'The service shows no such account.');
        const ask = { client, connection, account, confirmed, memberId: session.member.id };
        const feed = await connectAccount(api, ask);
        results.push({ account: id, client: client.id, feed: feed.id, message: feed.trouble });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        results.push({ account: id, client: client.id, feed: null, message: error.message });
      }
    }
    api.clockwork.nudge();
    return results;
  },
};
