import { minDate } from '@chronicon/core/calendar';
import type { Feed, Restatement, RouteName } from '@chronicon/core/contract';
import {
  canConfirm,
  changesOf,
  type Difference,
  describeDifferences,
  differencesFrom,
  type Fingerprint,
} from '@chronicon/core/feeds';
import { pastsOf } from '../facts/factReader.ts';
import { datasetStates, endDatasets, reopenDatasets, setPast } from '../facts/factStore.ts';
import { PAST } from '../facts/feedPast.ts';
import { restatementsOf, type Restatement as StoredRestatement } from '../facts/restated.ts';
import { FeedError } from '../feeds/connector.ts';
import { tellOfFacts } from '../feeds/factsTold.ts';
import { allServices, registrationFor, serviceLabel } from '../feeds/registrations.ts';
import { baseOf, isService, kindOf } from '../feeds/registry.ts';
import { fixedAccess } from '../feeds/services.ts';
import { atField, Refusal } from '../platform/refusal.ts';
import { resumeSchedulesFor, schedulesNeeding, stopSchedulesFor, titlesOf } from '../scheduler/feedNeeds.ts';
import { type ClientHead, clientById, type StoredClient } from '../store/clients.ts';
import { connectionById, createConnection, quotaOf, type StoredConnection } from '../store/connections.ts';
import {
  allFeedsOf,
  createFeed,
  feedsOfKind,
  fingerprintIn,
  isRemoved,
  NEVER,
  type StoredFeed,
  updateFeed,
} from '../store/feeds.ts';
import { openDaysOf } from '../store/imports.ts';
import { record } from '../store/ledger.ts';
import type { Member } from '../store/members.ts';
import { inTransaction } from '../store/store.ts';
import { theClient, theFeed } from './access.ts';
import type { Api, Handlers } from './context.ts';

const MOST_RESTATEMENTS = 200;

/** The one thing to do about a feed. */
export function actionFor(feed: StoredFeed, connection: StoredConnection | null): Feed['action'] {
  if (isRemoved(feed)) return 'reconnect';
  if (feed.kind === 'file') return 'import';
  if (feed.kind === 'typed') return 'type';
  if (feed.state === 'stopped') return 'confirm';
  if (connection && feed.fault === 'refused') return connection.method === 'oauth' ? 'authorise' : 'token';
  return 'fetch';
}

const told = ({ datasetId: _, feedId: __, ...r }: StoredRestatement): Restatement => r;

/** In what a stopped feed's account is not the one that is expected. */
function unlike(feed: StoredFeed, client: ClientHead | StoredClient): Difference[] {
  if (feed.seen === null) return [];
  const seen = fingerprintIn(feed.seen);
  return feed.fingerprint === null ? differencesFrom(client, seen) : changesOf(fingerprintIn(feed.fingerprint), seen);
}

/** Whether a stopped feed's account may be taken for the right one. */
export const mayBeConfirmed = (feed: StoredFeed, client: ClientHead | StoredClient): boolean =>
  feed.state === 'stopped' && canConfirm(unlike(feed, client));

export async function describeFeeds(api: Api, client: StoredClient, feeds: StoredFeed[]): Promise<Feed[]> {
  const states = await datasetStates(
    api.facts,
    feeds.map((f) => f.id),
  );
  const pasts = await pastsOf(
    api.facts,
    feeds.map((f) => f.id),
  );
  const open = await openDaysOf(
    api.store,
    feeds.flatMap((f) => (f.kind === 'file' ? [f.id] : [])),
  );
  return Promise.all(
    feeds.map(async (f) => {
      const connection = f.connection_id ? await connectionById(api.store, f.connection_id) : null;
      const datasets = states.filter((s) => s.feedId === f.id).map(({ feedId: _, ...s }) => s);
      const through = datasets.map((d) => d.coveredThrough);
      const [restated] = await restatementsOf(api.facts, [f.id], 1);
      return {
        id: f.id,
        name: f.name,
        kind: f.kind,
        source: isService(f.kind) ? ('service' as const) : f.kind === 'file' ? ('file' as const) : ('typed' as const),
        account: f.account,
        state: f.state,
        trouble: f.trouble,
        action: actionFor(f, connection),
        canConfirm: mayBeConfirmed(f, client),
        connection: f.connection_id,
        progress: f.progress_done < f.progress_of ? { done: f.progress_done, of: f.progress_of } : null,
        lastSuccess: f.last_success,
        nextSync: f.next_sync === NEVER ? null : f.next_sync,
        coveredThrough: through.every((d) => d !== null) && through.length > 0 ? through.reduce(minDate) : null,
        open: open.get(f.id)?.days ?? [],
        quota: connection ? quotaOf(connection, api.clock.now()) : null,
        restated: restated ? told(restated) : null,
        datasets,
        past: pasts.get(f.id) ?? PAST,
      };
    }),
  );
}

/** Looks the account up before anything is kept: a wrong number or token is told at its field. */
async function lookUp(api: Api, kind: string, account: string, token: string): Promise<Fingerprint> {
  try {
    return await (await api.services.try(kind, fixedAccess(token))).of(account).account();
  } catch (error) {
    if (!(error instanceof FeedError)) throw error;
    const field = { refused: 'token', 'unknown-account': 'account' }[error.kind as string] ?? 'kind';
    throw atField(field, error.message);
  }
}

const MONEY = 'Its reports would show the wrong currency.';

/**
 * One account in two clients' reports is how figures get to the wrong people: an owner says so, or nobody.
 * @throws Refusal at `account`
 */
async function checkFreeAccount(
  api: Api,
  kind: string,
  account: string,
  clientId: string,
  member: Member,
): Promise<void> {
  if (member.role === 'owner') return;
  const others = (await feedsOfKind(api.store, kind)).filter((f) => f.account === account && f.client_id !== clientId);
  if (others.length > 0) {
    throw atField('account', 'This account belongs to another client. Only an owner can link it to a second one.');
  }
}

/**
 * Makes an account a feed of a client, or takes one up again that was removed. One that does not look like the client's
 * is there, and stopped, until a person confirms it.
 * @throws Refusal at `account` when it is there already, or counts another currency
 */
export async function connectAccount(
  api: Api,
  ask: {
    client: StoredClient;
    connection: StoredConnection;
    account: Fingerprint;
    confirmed: boolean;
    member: Member;
  },
): Promise<StoredFeed> {
  const { client, connection, account, member } = ask;
  const memberId = member.id;
  const present = await allFeedsOf(api.store, client.id);
  const same = present.find((f) => f.kind === connection.kind && f.account === account.id);
  if (same && !isRemoved(same)) throw atField('account', 'This account is already connected to the client.');
  await checkFreeAccount(api, connection.kind, account.id, client.id, member);
  const differences = differencesFrom(client, account);
  if (!canConfirm(differences)) {
    throw atField(
      'account',
      `${account.name} doesn’t match this client: ${describeDifferences(differences)}. ${MONEY}`,
    );
  }
  const at = api.clock.now();
  const stops = differences.length > 0 && !ask.confirmed;
  const state: Partial<StoredFeed> = stops
    ? {
        state: 'stopped',
        trouble: `The account doesn’t match the client: ${describeDifferences(differences)}. Nothing was imported.`,
        fingerprint: null,
        seen: JSON.stringify(account),
        next_sync: NEVER,
      }
    : { state: 'new', trouble: null, fingerprint: JSON.stringify(account), seen: null, next_sync: at };
  let feed: StoredFeed;
  if (same) {
    const patch = { ...state, connection_id: connection.id, removed_at: null, failures: 0 };
    await updateFeed(api.store, same.id, patch);
    feed = { ...same, ...patch };
    if (!stops) await resumeSchedulesFor(api, feed, memberId);
  } else {
    feed = await createFeed(api.store, {
      clientId: client.id,
      kind: connection.kind,
      connectionId: connection.id,
      account: account.id,
      name: `${await serviceLabel(api.store, connection.kind)}: ${account.site || account.name}`,
      at,
      row: state,
    });
  }
  await record(api.store, {
    at,
    actor: memberId,
    action: 'feed.connected',
    subject: feed.id,
    detail: { client: client.id, account: account.id, site: account.site, stopped: stops },
  });
  return feed;
}

/**
 * The feed of the same client and kind that another one continues.
 * @throws Refusal at `continues` for any other, and for one that is continued already
 */
async function continuedBy(api: Api, feed: StoredFeed, id: string | null): Promise<string> {
  const like = (await allFeedsOf(api.store, feed.client_id)).filter(
    (f) => baseOf(f.kind) === baseOf(feed.kind) && f.id !== feed.id,
  );
  const found = like.find((f) => f.id === id);
  if (!found) throw atField('continues', 'Choose the feed it continues, of the same kind.');
  const pasts = await pastsOf(
    api.facts,
    like.map((f) => f.id),
  );
  if (pasts.get(found.id)?.continues === feed.id) {
    throw atField('continues', `${found.name} already continues ${feed.name}: only one of the two can.`);
  }
  const states = await datasetStates(api.facts, [found.id, feed.id]);
  const firstOf = (id: string) => states.flatMap((s) => (s.feedId === id ? [s.firstDay] : [])).sort()[0];
  const [theirs, own] = [firstOf(found.id), firstOf(feed.id)];
  if (theirs !== undefined && own !== undefined && theirs >= own) {
    throw atField('continues', `${found.name} doesn’t start before ${feed.name}, so it can’t be continued by it.`);
  }
  const other = like.find((f) => pasts.get(f.id)?.continues === found.id);
  if (other) throw atField('continues', `${other.name} already continues ${found.name}.`);
  return found.id;
}

export const feedHandlers: Handlers<
  Extract<
    RouteName,
    | `${string}/feed-kinds`
    | `${string} /api/clients/:client/feeds`
    | `${string} /api/clients/:client/feeds/:feed`
    | `${string}/feeds/:feed/${'token' | 'sync' | 'confirm' | 'restatements' | 'removal' | 'reconnect' | 'past'}`
  >
> = {
  'GET /api/feed-kinds': async ({ api }) =>
    Promise.all(
      (await allServices(api.store)).map(async (kind) => ({
        kind,
        label: await serviceLabel(api.store, kind),
        about: kindOf(kind).about,
        available: (await registrationFor(api, kind)) !== null,
      })),
    ),

  'GET /api/clients/:client/feeds': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    return describeFeeds(api, client, await allFeedsOf(api.store, params.client));
  },

  'POST /api/clients/:client/feeds': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { kind } = body;
    await checkFreeAccount(api, kind, body.account, client.id, session.member);
    const account = await lookUp(api, kind, body.account, body.token);
    const at = api.clock.now();
    const secret = api.secrets.seal(body.token);
    const connection = await createConnection(api.store, {
      kind,
      method: 'token',
      secret,
      madeBy: session.member.id,
      at,
    });
    const ask = { client, connection, account, confirmed: false, member: session.member };
    const feed = await connectAccount(api, ask);
    api.scheduler.nudge();
    return (await describeFeeds(api, client, [feed]))[0]!;
  },

  'PUT /api/clients/:client/feeds/:feed/token': async ({ api, session, params, body }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    await lookUp(api, feed.kind, feed.account, body.token);
    const at = api.clock.now();
    const secret = api.secrets.seal(body.token);
    const { kind } = feed;
    const made = await createConnection(api.store, { kind, method: 'token', secret, madeBy: session.member.id, at });
    await updateFeed(api.store, feed.id, { connection_id: made.id, next_sync: at });
    await record(api.store, { at, actor: session.member.id, action: 'feed.token', subject: feed.id });
    api.scheduler.nudge();
    const client = (await clientById(api.store, feed.client_id))!;
    return (await describeFeeds(api, client, [{ ...feed, connection_id: made.id }]))[0]!;
  },

  'PUT /api/clients/:client/feeds/:feed/past': async ({ api, session, params, body }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    const continues = body.before === 'continues' ? await continuedBy(api, feed, body.continues) : null;
    const at = api.clock.now();
    await setPast(api.facts, feed.id, { ...body, continues });
    await inTransaction(api.store, async (tx) => {
      await tellOfFacts(tx, api.facts, feed.client_id, at);
      const detail = { before: body.before, continues, after: body.after };
      await record(tx, { at, actor: session.member.id, action: 'feed.past', subject: feed.id, detail });
    });
    api.scheduler.nudge();
    return { done: true };
  },

  'POST /api/clients/:client/feeds/:feed/sync': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    if (!isService(feed.kind)) throw new Refusal(422, 'This feed is filled by uploads, so there is nothing to fetch.');
    api.syncs.run(feed.id, true).catch((err) => api.log.error({ err, feed: feed.id }, 'sync failed'));
    return { done: true };
  },

  'POST /api/clients/:client/feeds/:feed/confirm': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    const client = (await clientById(api.store, feed.client_id))!;
    if (feed.state !== 'stopped' || feed.seen === null) throw new Refusal(422, 'Nothing to confirm.');
    const differences = unlike(feed, client);
    if (!canConfirm(differences)) throw new Refusal(422, `This can’t be confirmed. ${MONEY}`);
    const at = api.clock.now();
    const patch = {
      state: 'new',
      trouble: null,
      fingerprint: feed.seen,
      seen: null,
      failures: 0,
      next_sync: at,
    } as const;
    await updateFeed(api.store, feed.id, patch);
    await record(api.store, {
      at,
      actor: session.member.id,
      action: 'feed.confirmed',
      subject: feed.id,
      detail: { differences: describeDifferences(differences) },
    });
    await resumeSchedulesFor(api, feed, session.member.id);
    api.scheduler.nudge();
    return { done: true };
  },

  'GET /api/clients/:client/feeds/:feed/restatements': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    return (await restatementsOf(api.facts, [feed.id], MOST_RESTATEMENTS)).map(told);
  },

  'GET /api/clients/:client/feeds/:feed/removal': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    return { schedules: await titlesOf(api, await schedulesNeeding(api, feed)) };
  },

  'DELETE /api/clients/:client/feeds/:feed': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    if (isRemoved(feed)) throw new Refusal(422, 'Already removed.');
    const schedules = await stopSchedulesFor(api, feed, session.member.id);
    const at = api.clock.now();
    await updateFeed(api.store, feed.id, {
      state: 'removed',
      trouble: null,
      removed_at: at,
      next_sync: NEVER,
      drop_key: null,
    });
    await endDatasets(api.facts, feed.id);
    await record(api.store, {
      at,
      actor: session.member.id,
      action: 'feed.removed',
      subject: feed.id,
      detail: { schedules },
    });
    return { schedules };
  },

  'POST /api/clients/:client/feeds/:feed/reconnect': async ({ api, session, params }) => {
    const feed = await theFeed(api.store, session.member, params.client, params.feed);
    if (!isRemoved(feed)) throw new Refusal(422, 'Already connected.');
    await checkFreeAccount(api, feed.kind, feed.account, feed.client_id, session.member);
    const at = api.clock.now();
    const fetched = isService(feed.kind);
    const stops = feed.seen !== null;
    const state = stops ? 'stopped' : fetched ? 'new' : 'fresh';
    await updateFeed(api.store, feed.id, {
      state,
      removed_at: null,
      failures: 0,
      next_sync: fetched && !stops ? at : NEVER,
    });
    await reopenDatasets(api.facts, feed.id);
    await record(api.store, { at, actor: session.member.id, action: 'feed.reconnected', subject: feed.id });
    const schedules = await resumeSchedulesFor(api, feed, session.member.id);
    api.scheduler.nudge();
    return { schedules };
  },
};
