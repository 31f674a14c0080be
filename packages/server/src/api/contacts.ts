import { MOST_LISTS } from '@chronicon/core/bounds';
import { domainOf, GUARD_WORDS, guard, isUsualAddress, splitDomains } from '@chronicon/core/client';
import type { Contact, RouteName } from '@chronicon/core/contract';
import { readerKey } from '@chronicon/core/report';
import { atField, notFound } from '../platform/refusal.ts';
import {
  changeClient,
  columnsOfClient,
  contactsOf,
  contactWithEmail,
  removeContact,
  type StoredClient,
  type StoredContact,
  saveContact,
} from '../store/clients.ts';
import { listsOf, removeList, saveList } from '../store/readerLists.ts';
import { reportById } from '../store/reports.ts';
import { type StoredSchedule, schedulesOf } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';
import { theClient } from './access.ts';
import { changing } from './changing.ts';
import type { Handlers } from './context.ts';
import { readersOfPlan } from './lookAhead.ts';

/** A contact with what the guard says of it. */
export function describeContact(client: Pick<StoredClient, 'domains' | 'site'>, contact: StoredContact): Contact {
  const fault = guard(client, contact);
  const name = `${contact.firstName} ${contact.lastName}`.trim();
  return { ...contact, stopped: fault === null ? null : `${name} ${GUARD_WORDS[fault]}` };
}

async function checkAddress(db: Store, clientId: string, email: string, self: string | null): Promise<void> {
  const same = await contactWithEmail(db, clientId, email);
  if (same && same.id !== self) {
    throw atField('email', `${same.firstName} ${same.lastName} already has this address.`.replace('  ', ' '));
  }
}

type Said = { email: string; outside?: 'address' | 'domain' | undefined };

/**
 * What is kept of an address that a person typed: whether it is approved by itself, and the domains that are usual from
 * now on. One outside them is asked about once.
 * @throws Refusal at `outside` for an address that nobody has been asked about
 */
function approve(client: StoredClient, { email, outside }: Said, before: StoredContact | null) {
  const address = email.trim().toLowerCase();
  const kept = { approved: before?.approved === address ? address : '', domains: client.domains };
  // The first contact's domain is what is usual.
  if (client.domains === '' || isUsualAddress(client, address) || kept.approved !== '') return kept;
  if (outside === 'address') return { ...kept, approved: address };
  if (outside === 'domain') return { ...kept, domains: `${client.domains} ${domainOf(address)}`.trim() };
  const usual = new Intl.ListFormat('en-GB').format(splitDomains(client.domains));
  throw atField('outside', `${address} isn’t at ${client.name}’s usual domains (${usual}). Is it correct?`);
}

/** Keeps a contact, and its domain where a person said that it is the client's. */
async function keep(
  tx: Store,
  client: StoredClient,
  contact: Parameters<typeof saveContact>[2],
  domains: string,
  at: string,
): Promise<StoredContact> {
  if (domains !== client.domains) {
    await changeClient(tx, client.id, { settings: columnsOfClient({ ...client, domains }).settings }, at);
  }
  return saveContact(tx, client.id, contact, at);
}

/** Which schedules still send to somebody, by the names under which they are found. */
async function stillSends(db: Store, schedules: readonly StoredSchedule[]): Promise<string> {
  const named: string[] = [];
  for (const s of schedules) {
    const title = (await reportById(db, s.reportId))?.title ?? 'a report';
    named.push(`“${title}” at ${s.time}${s.state === 'active' ? '' : ` (${s.state})`}`);
  }
  const all = new Intl.ListFormat('en-GB').format(named);
  return `Still receives ${all}. Choose other readers there first.`;
}

/** The schedules of a client that address somebody, or a list. */
const addressing = async (db: Store, clientId: string, key: string): Promise<StoredSchedule[]> =>
  (await schedulesOf(db, clientId)).filter((s) => readersOfPlan(s).some((r) => readerKey(r) === key));

/** Lists hold contacts of their client, each once. @throws Refusal at `contacts` */
async function checkMembersOfList(db: Store, clientId: string, ids: readonly string[]): Promise<void> {
  const known = new Set((await contactsOf(db, clientId)).map((c) => c.id));
  if (ids.some((id) => !known.has(id)) || new Set(ids).size !== ids.length) {
    throw atField('contacts', 'Choose each person once, from this client’s contacts.');
  }
}

async function checkListName(db: Store, clientId: string, name: string, self: string | null): Promise<void> {
  const taken = (await listsOf(db, clientId)).find((l) => l.name.toLowerCase() === name.toLowerCase());
  if (taken && taken.id !== self) throw atField('name', 'A list with this name already exists.');
}

async function theList(db: Store, clientId: string, id: string) {
  const list = (await listsOf(db, clientId)).find((l) => l.id === id);
  if (!list) throw notFound('list');
  return list;
}

export const contactHandlers: Handlers<
  Extract<RouteName, `${string}/contacts` | `${string}/contacts/:contact` | `${string}/lists${string}`>
> = {
  'POST /api/clients/:client/contacts': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    await checkAddress(api.store, client.id, body.email, null);
    const { approved, domains } = approve(client, body, null);
    const made = await changing(api, session, 'contact.added', client.id, (tx, at) =>
      keep(tx, client, { ...body, approved }, domains, at),
    );
    return describeContact(await theClient(api.store, session.member, client.id), made);
  },

  'PUT /api/clients/:client/contacts/:contact': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const before = (await contactsOf(api.store, client.id)).find((c) => c.id === params.contact);
    if (!before) throw notFound('contact');
    await checkAddress(api.store, client.id, body.email, params.contact);
    const { approved, domains } = approve(client, body, before);
    const contact = { ...body, id: params.contact, approved };
    const kept = await changing(api, session, 'contact.changed', client.id, (tx, at) =>
      keep(tx, client, contact, domains, at),
    );
    return describeContact(await theClient(api.store, session.member, client.id), kept);
  },

  'DELETE /api/clients/:client/contacts/:contact': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    if (!(await contactsOf(api.store, client.id)).some((c) => c.id === params.contact)) throw notFound('contact');
    const using = await addressing(api.store, client.id, params.contact);
    if (using.length > 0) throw atField('contact', await stillSends(api.store, using));
    await changing(api, session, 'contact.removed', client.id, async (tx, at) => {
      for (const list of await listsOf(tx, client.id)) {
        if (!list.contacts.includes(params.contact)) continue;
        const contacts = list.contacts.filter((id) => id !== params.contact);
        await saveList(tx, client.id, { ...list, contacts }, at);
      }
      await removeContact(tx, client.id, params.contact, at);
    });
    return { done: true };
  },

  'POST /api/clients/:client/lists': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    await checkMembersOfList(api.store, client.id, body.contacts);
    const id = await changing(api, session, 'list.added', client.id, async (tx, at) => {
      await checkListName(tx, client.id, body.name, null);
      if ((await listsOf(tx, client.id)).length >= MOST_LISTS) {
        throw atField('name', `A client has at most ${MOST_LISTS} lists.`);
      }
      return saveList(tx, client.id, body, at);
    });
    return { ...body, id };
  },

  'PUT /api/clients/:client/lists/:list': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { id } = await theList(api.store, client.id, params.list);
    await checkMembersOfList(api.store, client.id, body.contacts);
    await changing(api, session, 'list.changed', client.id, async (tx, at) => {
      await checkListName(tx, client.id, body.name, id);
      await saveList(tx, client.id, { ...body, id }, at);
    });
    return { ...body, id };
  },

  'DELETE /api/clients/:client/lists/:list': async ({ api, session, params }) => {
    const client = await theClient(api.store, session.member, params.client);
    const { id } = await theList(api.store, client.id, params.list);
    const using = await addressing(api.store, client.id, id);
    if (using.length > 0) throw atField('list', await stillSends(api.store, using));
    await changing(api, session, 'list.removed', client.id, (tx, at) => removeList(tx, client.id, id, at));
    return { done: true };
  },
};
