import type { Client, ClientInput, ClientRow, RouteName } from '@chronicon/core/contract';
import type { Session } from '../access/sessions.ts';
import { datasetStates } from '../facts/factStore.ts';
import { isService } from '../feeds/registry.ts';
import {
  clientById,
  clientsSeenBy,
  contactsOf,
  contactWithEmail,
  createClient,
  removeContact,
  type StoredClient,
  saveContact,
  updateBrand,
  updateClient,
} from '../store/clients.ts';
import { findEditions, leftOutOf } from '../store/editions.ts';
import { feedsOf } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { type Agency, agencyOf, memberById } from '../store/members.ts';
import { reportById } from '../store/reports.ts';
import { type StoredSchedule, schedulesOf } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { theClient } from './access.ts';
import type { Api, Handlers } from './context.ts';
import { upcomingRuns } from './lookAhead.ts';
import { atField, notFound } from './refusal.ts';
import { defaultMail } from './reports.ts';

export async function describeClient(db: Store, id: string): Promise<Client> {
  const client = (await clientById(db, id))!;
  const { managerId, metrics: _, ...rest } = client;
  const manager = (await memberById(db, managerId))?.name ?? '';
  return { ...rest, manager, contacts: await contactsOf(db, id), mail: defaultMail(client) };
}

async function describeRow(api: Api, agency: Agency, client: StoredClient): Promise<ClientRow> {
  const { store } = api;
  const feeds = await feedsOf(store, client.id);
  const schedules = await schedulesOf(store, client.id);
  const runs = await upcomingRuns(
    store,
    agency,
    schedules.filter((s) => s.state === 'active'),
    api.clock.now(),
    400,
  );
  const leftOut = await leftOutOf(store, client.id, api.clock.now());
  const next = runs.find((r) => !leftOut.has(`${r.schedule.id} ${r.nominal}`));
  // Files and typed-in figures come when somebody brings them: they do not say how far the services are.
  const fetched = feeds.filter((f) => isService(f.kind));
  const states = await datasetStates(
    api.facts,
    (fetched.length > 0 ? fetched : feeds).map((f) => f.id),
  );
  const sent = await findEditions(store, { clientIds: [client.id], state: 'sent' }, { offset: 0, limit: 1 });
  const { managerId, brand, metrics: _, ...rest } = client;
  return {
    ...rest,
    colour: brand.main,
    manager: (await memberById(store, managerId))?.name ?? '',
    next: next ? { at: next.at, title: next.title } : null,
    feeds: {
      count: feeds.length,
      troubled: feeds.filter((f) => f.trouble !== null).length,
      coveredThrough: states.map((s) => s.coveredThrough).sort()[0] ?? null,
    },
    schedules: schedules.length,
    lastSent: sent.rows[0]?.due_at ?? null,
  };
}

/** Days and money of what was fetched cannot be counted anew: a feed keeps the client's zone and currency. */
async function checkFeeds(db: Store, client: StoredClient, input: ClientInput): Promise<void> {
  if ((await feedsOf(db, client.id)).length === 0) return;
  for (const field of ['zone', 'currency'] as const) {
    if (input[field] !== client[field]) {
      throw atField(field, `Its feeds count in ${client[field]}. It cannot be changed while they are connected.`);
    }
  }
}

async function checkAddress(db: Store, clientId: string, email: string, self: string | null): Promise<void> {
  const same = await contactWithEmail(db, clientId, email);
  if (same && same.id !== self) {
    throw atField('email', `${same.firstName} ${same.lastName} has this address already.`.replace('  ', ' '));
  }
}

/** A change of a client with its entry in the ledger; editions follow at once. */
export async function changing<T>(
  api: Api,
  { member }: Session,
  action: string,
  clientId: string,
  change: (tx: Store, at: string) => Promise<T>,
): Promise<T> {
  const at = api.clock.now();
  const result = await inTransaction(api.store, async (tx) => {
    const done = await change(tx, at);
    const id = (done as { id?: string } | undefined)?.id;
    await record(tx, { at, actor: member.id, action, subject: clientId, ...(id && { detail: { contact: id } }) });
    return done;
  });
  api.clockwork.nudge();
  return result;
}

/** Which schedules still send to somebody, by the names under which they are found. */
async function stillSends(db: Store, schedules: readonly StoredSchedule[]): Promise<string> {
  const named: string[] = [];
  for (const s of schedules) {
    const title = (await reportById(db, s.reportId))?.title ?? 'a report';
    named.push(`“${title}” at ${s.time}${s.state === 'active' ? '' : ` (${s.state})`}`);
  }
  const all = new Intl.ListFormat('en-GB').format(named);
  return `Still a reader of the ${named.length === 1 ? 'schedule' : 'schedules'} ${all}. Choose other readers there first.`;
}

export const clientHandlers: Handlers<
  Extract<
    RouteName,
    `${string} /api/clients` | `${string} /api/clients/:client${'' | '/brand' | '/logo' | `/contacts${string}`}`
  >
> = {
  'GET /api/clients': async ({ api, session }) => {
    const agency = (await agencyOf(api.store))!;
    const clients = await clientsSeenBy(api.store, session.member);
    return Promise.all(clients.map((c) => describeRow(api, agency, c)));
  },

  'POST /api/clients': async ({ api, session, body }) => {
    const at = api.clock.now();
    return inTransaction(api.store, async (tx) => {
      const client = await createClient(tx, body, { managerId: session.member.id, at });
      await record(tx, { at, actor: session.member.id, action: 'client.created', subject: client.id });
      return describeClient(tx, client.id);
    });
  },

  'GET /api/clients/:client': async ({ api, session, params }) => {
    await theClient(api.store, session.member, params.client);
    return describeClient(api.store, params.client);
  },

  'PUT /api/clients/:client': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    await checkFeeds(api.store, client, body);
    await changing(api, session, 'client.changed', client.id, (tx, at) => updateClient(tx, client.id, body, at));
    return describeClient(api.store, params.client);
  },

  'PUT /api/clients/:client/brand': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const brand = { ...client.brand, ...body };
    await changing(api, session, 'brand.changed', client.id, (tx, at) => updateBrand(tx, client.id, brand, at));
    return describeClient(api.store, client.id);
  },

  'DELETE /api/clients/:client/logo': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const brand = { ...client.brand, logo: null };
    await changing(api, session, 'brand.changed', client.id, (tx, at) => updateBrand(tx, client.id, brand, at));
    return describeClient(api.store, client.id);
  },

  'POST /api/clients/:client/contacts': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    await checkAddress(api.store, client.id, body.email, null);
    return changing(api, session, 'contact.added', client.id, (tx, at) => saveContact(tx, client.id, body, at));
  },

  'PUT /api/clients/:client/contacts/:contact': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!(await contactsOf(api.store, client.id)).some((c) => c.id === params.contact)) throw notFound('contact');
    await checkAddress(api.store, client.id, body.email, params.contact);
    const contact = { ...body, id: params.contact };
    return changing(api, session, 'contact.changed', client.id, (tx, at) => saveContact(tx, client.id, contact, at));
  },

  'DELETE /api/clients/:client/contacts/:contact': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!(await contactsOf(api.store, client.id)).some((c) => c.id === params.contact)) throw notFound('contact');
    const using = (await schedulesOf(api.store, client.id)).filter((s) => s.readers.includes(params.contact));
    if (using.length > 0) throw atField('contact', await stillSends(api.store, using));
    await changing(api, session, 'contact.removed', client.id, (tx, at) =>
      removeContact(tx, client.id, params.contact, at),
    );
    return { done: true };
  },
};
