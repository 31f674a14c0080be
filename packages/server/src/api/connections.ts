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
import { serviceLabel } from '../feeds/registrations.ts';
import { fixedAccess } from '../feeds/services.ts';
import { grouped } from '../platform/grouped.ts';
import { atField, notFound, Refusal } from '../platform/refusal.ts';
import { clientsSeenBy } from '../store/clients.ts';
import {
  connectionById,
  connections,
  createConnection,
  quotaOf,
  type StoredConnection,
  updateConnection,
} from '../store/connections.ts';
import { feedsBy, feedsOfKind, type StoredFeed, updateFeed } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { type Member, memberById } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { connectAccount } from './feeds.ts';

/** How many feeds a connection has that a member may know of. */
async function describe(api: Api, c: StoredConnection, member: Member): Promise<Connection> {
  const seen = await seenIds(api, member);
  return {
    id: c.id,
    kind: c.kind,
    label: await serviceLabel(api.store, c.kind),
    method: c.method,
    madeAt: c.created_at,
    madeBy: c.made_by ? ((await memberById(api.store, c.made_by))?.name ?? null) : null,
    mine: mayUseAll(c, member),
    feeds: (await feedsBy(api.store, c.id)).filter((f) => seen.has(f.client_id)).length,
    refused: c.refused,
    quota: quotaOf(c, api.clock.now()),
  };
}

const seenIds = async (api: Api, member: Member): Promise<Set<string>> =>
  new Set((await clientsSeenBy(api.store, member)).map((c) => c.id));

/** Owners, and whoever connected it, dispose of the accounts that feed nobody yet. */
const mayUseAll = (c: StoredConnection, member: Member): boolean => member.role === 'owner' || c.made_by === member.id;

/**
 * A connection that a member has to do with: their own, as owner any, or one that feeds a client they may see.
 * @throws Refusal 404 for any other
 */
async function theConnection(api: Api, member: Member, id: string): Promise<StoredConnection> {
  const found = await connectionById(api.store, id);
  if (found && (mayUseAll(found, member) || (await feedsSeen(api, member, found)).length > 0)) return found;
  throw notFound('connection');
}

/** The feeds of a connection that belong to clients a member may see. */
async function feedsSeen(api: Api, member: Member, c: StoredConnection): Promise<StoredFeed[]> {
  const seen = await seenIds(api, member);
  return (await feedsBy(api.store, c.id)).filter((f) => seen.has(f.client_id));
}

/** Which client each account of a kind feeds, whoever connected it; accounts of removed feeds are free again. */
async function takenAccounts(api: Api, kind: string): Promise<Map<string, string[]>> {
  return grouped(
    await feedsOfKind(api.store, kind),
    (f) => f.account,
    (f) => f.client_id,
  );
}

/**
 * The accounts of a connection that a member may know of: those that feed clients they may see, and, as owner or as the
 * one who connected it, those that feed nobody yet. An owner sees all.
 */
async function accountsFor(api: Api, member: Member, c: StoredConnection) {
  const accounts = await accountsOf(api, c);
  const taken = await takenAccounts(api, c.kind);
  const seen = await seenIds(api, member);
  const shown = accounts.filter(({ id }) => {
    if (member.role === 'owner') return true;
    const clients = taken.get(id) ?? [];
    return clients.length === 0 ? mayUseAll(c, member) : clients.some((client) => seen.has(client));
  });
  return { accounts: shown, taken };
}

/** Everything that a connection can read. @throws Refusal in the service's own words */
async function accountsOf(api: Api, c: StoredConnection): Promise<Fingerprint[]> {
  try {
    const { service, done } = await api.services.open(c, true);
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
  const to = new URL(back);
  if (to.pathname !== '/connect/back' || to.search !== '' || to.hash !== '' || !api.origins.has(to.origin)) {
    throw atField('back', 'This is not an address of this server.');
  }
}

/**
 * Who authorises a connection anew has to be let in by the same place: every account that feeds somebody by it has to be
 * there still. @throws Refusal 422
 */
async function checkSameService(api: Api, connectionId: string, kind: string, access: string): Promise<void> {
  const wanted = new Set((await feedsBy(api.store, connectionId)).map((f) => f.account));
  if (wanted.size === 0) return;
  let found: Fingerprint[];
  try {
    found = await (await api.services.try(kind, fixedAccess(access))).accounts();
  } catch (error) {
    if (!(error instanceof FeedError)) throw error;
    throw new Refusal(502, error.message);
  }
  const missing = [...wanted].filter((id) => !found.some((a) => a.id === id));
  if (missing.length === 0) return;
  throw new Refusal(
    422,
    `This account has no access to ${missing.length === 1 ? 'an account' : `${missing.length} accounts`} that clients use. Authorise with the original account. Nothing was changed.`,
  );
}

/** Lets the feeds of a connection go on that the service had refused. */
async function wake(api: Api, connectionId: string): Promise<void> {
  const at = api.clock.now();
  for (const feed of await feedsBy(api.store, connectionId)) {
    if (feed.state === 'troubled') await updateFeed(api.store, feed.id, { next_sync: at });
  }
  api.scheduler.nudge();
}

export const connectionHandlers: Handlers<Extract<RouteName, `${string} /api/connections${string}`>> = {
  'GET /api/connections': async ({ api, session: { member } }) => {
    const shown = [];
    for (const c of await connections(api.store)) {
      if (mayUseAll(c, member) || (await feedsSeen(api, member, c)).length > 0)
        shown.push(await describe(api, c, member));
    }
    return shown;
  },

  'POST /api/connections': async ({ api, session, body }) => {
    const { kind, token } = body;
    try {
      await (await api.services.try(kind, fixedAccess(token))).accounts();
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
      throw atField(error.kind === 'refused' ? 'token' : 'kind', error.message);
    }
    const at = api.clock.now();
    const secret = api.secrets.seal(token);
    const made = await createConnection(api.store, { kind, method: 'token', secret, madeBy: session.member.id, at });
    await record(api.store, { at, actor: session.member.id, action: 'connection.made', subject: made.id });
    return describe(api, made, session.member);
  },

  'POST /api/connections/begin': async ({ api, session, body }) => {
    checkBack(api, body.back);
    if (body.connection) {
      const renewed = await theConnection(api, session.member, body.connection);
      if (!mayUseAll(renewed, session.member)) {
        throw new Refusal(403, 'Only an owner or the person who connected it can reconnect it.');
      }
      if (renewed.kind !== body.kind) throw atField('kind', 'A connection’s service can’t be changed.');
    }
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
    if (!ended) throw new Refusal(422, 'Authorisation expired. Start again.');
    const at = api.clock.now();
    const secret = api.secrets.seal(JSON.stringify(ended.tokens));
    const { kind, connectionId } = ended;
    if (connectionId === null) {
      const made = await createConnection(api.store, { kind, method: 'oauth', secret, madeBy: memberId, at });
      await record(api.store, { at, actor: memberId, action: 'connection.made', subject: made.id });
      return describe(api, made, session.member);
    }
    await checkSameService(api, connectionId, kind, ended.tokens.access);
    await inTransaction(api.store, async (tx) => {
      await updateConnection(tx, connectionId, { method: 'oauth', secret, refused: null });
      await record(tx, { at, actor: memberId, action: 'connection.renewed', subject: connectionId });
    });
    await wake(api, connectionId);
    return describe(api, (await connectionById(api.store, connectionId))!, session.member);
  },

  'GET /api/connections/:connection/accounts': async ({ api, session: { member }, params }) => {
    const connection = await theConnection(api, member, params.connection);
    const { accounts, taken } = await accountsFor(api, member, connection);
    const clients = await clientsSeenBy(api.store, member);
    const names = new Map(clients.map((c) => [c.id, c.name]));
    const suggestions = suggestClients(accounts, clients);
    return {
      connection: await describe(api, connection, member),
      accounts: accounts.map((account, i) => {
        const match = suggestions[i];
        const takenBy = taken.get(account.id) ?? [];
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
          takenBy: takenBy.flatMap((client) => (names.has(client) ? [{ client, name: names.get(client)! }] : [])),
        };
      }),
    };
  },

  'POST /api/connections/:connection/check': async ({ api, session: { member }, params, body }) => {
    const connection = await theConnection(api, member, params.connection);
    const shown = (await accountsFor(api, member, connection)).accounts;
    const accounts = new Map(shown.map((a) => [a.id, a] as const));
    return Promise.all(
      body.links.map(async (link) => {
        const client = await theClient(api.store, member, link.client);
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

  'POST /api/connections/:connection/feeds': async ({ api, session: { member }, params, body }) => {
    const connection = await theConnection(api, member, params.connection);
    const { accounts: shown } = await accountsFor(api, member, connection);
    const accounts = new Map(shown.map((a) => [a.id, a] as const));
    const linked = await Promise.all(
      body.links.map(async (link) => ({ link, client: await theClient(api.store, member, link.client) })),
    );
    const results = [];
    for (const { link, client } of linked) {
      const { account: id, confirmed } = link;
      const account = accounts.get(id);
      try {
        if (!account) throw atField('account', 'The service has no such account.');
        const feed = await connectAccount(api, { client, connection, account, confirmed, member });
        results.push({ account: id, client: client.id, feed: feed.id, message: feed.trouble });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        results.push({ account: id, client: client.id, feed: null, message: error.message });
      }
    }
    api.scheduler.nudge();
    return results;
  },
};
