import { type ClientSettings, domainOf, pickSettings, readSettings } from '@chronicon/core/client';
import { type ClientInput, type Contact, type ContactDetails, contactDetails } from '@chronicon/core/contract';
import { type MetricSettings, NO_SETTINGS, type OwnMetric } from '@chronicon/core/figures';
import { type AgencyBrand, type Brand, KIT_PARTS, type KitPart } from '@chronicon/core/report';
import { type Selectable, sql, type Updateable } from 'kysely';
import { z } from 'zod';
import { among } from './among.ts';
import { brandIn } from './brands.ts';
import { cached } from './cache.ts';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import { FOLDED, folded, hasText } from './like.ts';
import type { Member } from './members.ts';
import { metricSettingsIn, ownMetricsIn } from './metricSettings.ts';
import { readOnce } from './parsed.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';
import { storedOnce } from './stored.ts';
import { seenIn, VISIBILITY_TABLES, type Visibility, visibilityKey } from './visibility.ts';

export interface StoredClient extends ClientInput {
  id: string;
  managerId: string;
  /** Since when nothing runs for it. */
  inactiveSince: string | null;
  brand: Brand;
  metrics: MetricSettings;
}

/** What lists and day sheets say of a client. */
export interface ClientHead extends ClientInput {
  id: string;
  managerId: string;
  inactiveSince: string | null;
  colour: string;
}

export const DEFAULT_BRAND: Brand = { main: '#0f5e6b', second: '#a86a12', footer: '', logo: null };

type HeadRow = Pick<Selectable<Tables['client']>, (typeof HEAD)[number]>;

/** Of some thousand clients. */
const settingsIn = readOnce<ClientSettings>(2_000_000, (text) => readSettings(JSON.parse(text)));

const inputOf = (r: HeadRow): ClientInput & { id: string; managerId: string; inactiveSince: string | null } => ({
  id: r.id,
  name: r.name,
  ...settingsIn(r.settings, `the client ${r.id}`),
  managerId: r.manager_id,
  inactiveSince: r.inactive_at,
});

const HEAD = ['id', 'name', 'settings', 'manager_id', 'colour', 'inactive_at'] as const;

const headOf = (r: HeadRow): ClientHead => ({ ...inputOf(r), colour: r.colour });

/** A client's metrics with those that the agency has for all; one of its own of the same key comes first. */
function withShared(metrics: MetricSettings, shared: string | null): MetricSettings {
  const all = ownMetricsIn(shared ?? '[]');
  if (all.length === 0) return metrics;
  const keys = new Set(metrics.own.map((m) => m.key));
  const others = all.filter((m) => !keys.has(m.key)).map((m): OwnMetric => ({ ...m, shared: true }));
  return { ...metrics, own: [...metrics.own, ...others] };
}

const fromRow = (r: Selectable<Tables['client']> & { shared: string | null }): StoredClient => ({
  ...inputOf(r),
  brand: brandIn(r.brand),
  metrics: withShared(metricSettingsIn(r.metrics), r.shared),
});

export const columnsOfClient = ({ name, ...settings }: ClientInput) => ({
  name,
  settings: JSON.stringify(pickSettings(settings)),
});

/** A new client; what is not set is as it is for clients that are older than the setting. */
export async function createClient(
  db: Store,
  { name, ...settings }: { name: string } & Partial<ClientSettings>,
  by: { managerId: string; at: string; brand?: Brand },
): Promise<StoredClient> {
  const input = { name, ...readSettings(settings) };
  const id = newId('cl');
  const brand = by.brand ?? DEFAULT_BRAND;
  await db
    .insertInto('client')
    .values({
      id,
      ...columnsOfClient(input),
      manager_id: by.managerId,
      brand: JSON.stringify(brand),
      colour: brand.main,
      metrics: JSON.stringify(NO_SETTINGS),
      created_at: by.at,
    })
    .execute();
  await db.insertInto('assignment').values({ client_id: id, member_id: by.managerId }).execute();
  return { ...input, id, managerId: by.managerId, inactiveSince: null, brand, metrics: NO_SETTINGS };
}

/** Changes a client's row; its editions that are not on their way follow, in the same transaction. */
export const changeClient = (db: Store, id: string, values: Updateable<Tables['client']>, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx.updateTable('client').set(values).where('id', '=', id).execute();
    await markStale(tx, { clientId: id }, at);
  });

/** @param colour by which lists tell the client: the first one of its pages, its own or the agency's */
export const updateBrand = (
  db: Store,
  id: string,
  brand: Brand,
  at: string,
  colour: string | null = null,
): Promise<void> => changeClient(db, id, { brand: JSON.stringify(brand), ...(colour !== null && { colour }) }, at);

/** A new client is not the agency: its logo and its cover are its own to bring. */
const OWN_FROM_FIRST: readonly KitPart[] = ['logo', 'cover'];

/** What a new client has of the agency's kit: all of it but pictures, until it gets something of its own. */
export function newBrand({ logo: _, logoDark: __, cover: ___, mailHead: ____, ...said }: AgencyBrand): Brand {
  return { ...said, logo: null, follows: KIT_PARTS.filter((part) => !OWN_FROM_FIRST.includes(part)) };
}

/** Gives the clients that have the agency's colours those that it has now. */
export async function followColours(db: Store, { main }: Pick<AgencyBrand, 'main'>): Promise<void> {
  await db
    .updateTable('client')
    .set({ colour: main })
    .where(sql<boolean>`exists (select 1 from json_each(client.brand, '$.follows') where value = 'colours')`)
    .execute();
}

/** What the agency has for all clients is kept with the agency alone. */
export const updateMetrics = (db: Store, id: string, metrics: MetricSettings, at: string): Promise<void> =>
  changeClient(db, id, { metrics: JSON.stringify({ ...metrics, own: metrics.own.filter((m) => !m.shared) }) }, at);

/** Metrics for all clients that have what they are made from. */
export async function sharedMetrics(db: Store): Promise<OwnMetric[]> {
  const row = await db.selectFrom('agency').select('metrics').executeTakeFirst();
  return [...ownMetricsIn(row?.metrics ?? '[]')];
}

/** Changes them; whatever is on its way to be sent follows, in the same transaction. */
export const updateSharedMetrics = (db: Store, metrics: readonly OwnMetric[], at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx
      .updateTable('agency')
      .set({ metrics: JSON.stringify(metrics.map(({ shared: _, ...m }) => m)) })
      .execute();
    await markStale(tx, 'all', at);
  });

/** A client that has a metric of its own by a key. */
export async function clientWithMetric(db: Store, key: string): Promise<string | null> {
  const row = await db
    .selectFrom('client')
    .select('name')
    .where(sql<boolean>`exists (select 1 from json_each(client.metrics, '$.own') where value ->> 'key' = ${key})`)
    .orderBy('name')
    .executeTakeFirst();
  return row?.name ?? null;
}

/** Clients whose own formulas may name a metric: those with its key in their metrics. */
export async function clientsNaming(db: Store, key: string): Promise<StoredClient[]> {
  const rows = await db
    .selectFrom('client')
    .selectAll()
    .select((q) => q.selectFrom('agency').select('agency.metrics').limit(1).as('shared'))
    .where(hasText('client.metrics', key))
    .execute();
  return rows.map(fromRow);
}

export const clientById = (db: Store, id: string): Promise<StoredClient | null> =>
  cached(db, ['client', 'agency'], `client ${id}`, async () => {
    const row = await db
      .selectFrom('client')
      .selectAll()
      .select((q) => q.selectFrom('agency').select('agency.metrics').limit(1).as('shared'))
      .where('id', '=', id)
      .executeTakeFirst();
    return row ? fromRow(row) : null;
  });

/** The visible clients, by name: owners see every one, the others those assigned to them. */
export const clientsIn = (db: Store, visibility: Visibility): Promise<ClientHead[]> =>
  cached(db, VISIBILITY_TABLES, `clients ${visibilityKey(visibility)}`, async () => {
    const rows = await db
      .selectFrom('client')
      .select(HEAD)
      .where(seenIn(visibility, 'client.id'))
      .orderBy('name')
      .execute();
    return rows.map(headOf);
  });

export const clientsSeenBy = (db: Store, member: Member): Promise<ClientHead[]> => clientsIn(db, { member });

/** What the visible clients are called, by name: for choosing one. */
export async function clientNames(
  db: Store,
  visibility: Visibility,
  { text, ids, limit }: { text: string; ids: readonly string[]; limit: number },
): Promise<ClientName[]> {
  const seen = db.selectFrom('client').select(['id', 'name', 'colour']).where(seenIn(visibility, 'client.id'));
  const named = text === '' ? seen : seen.where(hasText('name', text));
  const found = await named.orderBy('name').orderBy('id').limit(limit).execute();
  const others = ids.filter((id) => !found.some((c) => c.id === id));
  const chosen = others.length === 0 ? [] : await seen.where(among('id', others)).execute();
  return [...found, ...chosen].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : a.id < b.id ? -1 : 1));
}

/** The ids of all clients that a member sees. */
export async function clientIdsSeen(db: Store, visibility: Visibility): Promise<Set<string>> {
  const rows = await db.selectFrom('client').select('id').where(seenIn(visibility, 'client.id')).execute();
  return new Set(rows.map((r) => r.id));
}

/** How many clients a member sees. */
export async function clientsCounted(db: Store, visibility: Visibility): Promise<number> {
  const query = db.selectFrom('client').where(seenIn(visibility, 'client.id'));
  return (await query.select((s) => s.fn.countAll<number>().as('n')).executeTakeFirstOrThrow()).n;
}

export interface ClientName {
  id: string;
  name: string;
  colour: string;
}

/** These clients, by id. */
export async function clientsByIds(db: Store, ids: readonly string[]): Promise<Map<string, ClientHead>> {
  if (ids.length === 0) return new Map();
  const rows = await db.selectFrom('client').select(HEAD).where(among('id', ids)).execute();
  return new Map(rows.map((r) => [r.id, headOf(r)]));
}

/** A page of the visible clients whose names have a text in them, by name, and how many there are of them. */
export async function findClients(
  db: Store,
  visibility: Visibility,
  text: string,
  page: { offset: number; limit: number },
): Promise<{ clients: ClientHead[]; total: number }> {
  let found = db.selectFrom('client').where(seenIn(visibility, 'client.id'));
  if (text !== '') found = found.where(hasText('name', text));
  const rows = await found
    .select(HEAD)
    // Those that were put aside come last.
    .orderBy((q) => q('inactive_at', 'is not', null))
    .orderBy('name')
    .orderBy('id')
    .offset(page.offset)
    .limit(page.limit)
    .execute();
  const { n } = await found.select((s) => s.fn.countAll<number>().as('n')).executeTakeFirstOrThrow();
  return { clients: rows.map(headOf), total: n };
}

export async function maySee(db: Store, member: Member, clientId: string): Promise<boolean> {
  if (member.role === 'owner') return true;
  const row = await db
    .selectFrom('assignment')
    .select('client_id')
    .where('client_id', '=', clientId)
    .where('member_id', '=', member.id)
    .executeTakeFirst();
  return row !== undefined;
}

const contactColumns = ['id', 'first_name as firstName', 'last_name as lastName', 'email', 'details'] as const;

/** A contact as it is stored: `approved` stands among what is noted of it. */
export type StoredContact = Omit<Contact, 'stopped'>;

type ContactRow = { id: string; firstName: string; lastName: string; email: string; details: string };

/** What is older than a part of it has nothing there. */
const detailsIn = storedOnce(contactDetails.extend({ approved: z.string().default('') }), 'what is noted of a contact');

const contactFrom = ({ details, ...rest }: ContactRow): StoredContact => ({ ...rest, ...detailsIn(details) });

/** Present contacts; those removed are found by {@link contactsByIds} alone. */
export const contactsOf = (db: Store, clientId: string): Promise<StoredContact[]> =>
  cached(db, ['contact'], `contacts ${clientId}`, async () => {
    const rows = await db
      .selectFrom('contact')
      .select(contactColumns)
      .where('client_id', '=', clientId)
      .where('removed_at', 'is', null)
      .orderBy('first_name')
      .execute();
    return rows.map(contactFrom);
  });

/** What the present contacts of these clients are called, by id. */
export async function contactNames(db: Store, clientIds: readonly string[]): Promise<Map<string, string>> {
  if (clientIds.length === 0) return new Map();
  const rows = await db
    .selectFrom('contact')
    .select(contactColumns)
    .where('client_id', 'in', clientIds)
    .where('removed_at', 'is', null)
    .execute();
  return new Map(rows.map((c) => [c.id, `${c.firstName} ${c.lastName}`.trim()]));
}

/** The present contacts of these clients, by client. */
export async function contactsOfAll(db: Store, clientIds: readonly string[]): Promise<Map<string, StoredContact[]>> {
  const all = new Map<string, StoredContact[]>();
  if (clientIds.length === 0) return all;
  const rows = await db
    .selectFrom('contact')
    .select([...contactColumns, 'client_id'])
    .where(among('client_id', clientIds))
    .where('removed_at', 'is', null)
    .orderBy('first_name')
    .execute();
  for (const { client_id: client, ...row } of rows) {
    const own = all.get(client);
    if (own) own.push(contactFrom(row));
    else all.set(client, [contactFrom(row)]);
  }
  return all;
}

/** Somebody at a client as lists of thousands need them. */
export interface ListedContact {
  id: string;
  clientId: string;
  name: string;
  email: string;
}

/** The present contacts of the visible clients: what they are called, and no more. */
export async function contactsListed(db: Store, visibility: Visibility): Promise<ListedContact[]> {
  const rows = await db
    .selectFrom('contact')
    .select(['id', 'client_id', 'first_name', 'last_name', 'email'])
    .where(seenIn(visibility, 'contact.client_id'))
    .where('removed_at', 'is', null)
    .execute();
  return rows.map((r) => ({
    id: r.id,
    clientId: r.client_id,
    name: `${r.first_name} ${r.last_name}`.trim(),
    email: r.email,
  }));
}

/** The present contacts of one client among `ids`: another client's people never come out of it. */
export async function contactsByIds(db: Store, clientId: string, ids: readonly string[]): Promise<StoredContact[]> {
  if (ids.length === 0) return [];
  const found = await contactsOf(db, clientId);
  return ids.flatMap((id) => found.find((c) => c.id === id) ?? []);
}

/** Takes a domain for one of a client's own where none is named yet. */
async function nameDomain(tx: Store, clientId: string, domain: string): Promise<void> {
  const row = await tx.selectFrom('client').select('settings').where('id', '=', clientId).executeTakeFirstOrThrow();
  const settings = settingsIn(row.settings, `the client ${clientId}`);
  if (settings.domains !== '') return;
  await tx
    .updateTable('client')
    .set({ settings: JSON.stringify({ ...settings, domains: domain }) })
    .where('id', '=', clientId)
    .execute();
}

export async function saveContact(
  db: Store,
  clientId: string,
  contact: Pick<Contact, 'firstName' | 'lastName' | 'email'> &
    Partial<ContactDetails> & { id?: string; approved?: string },
  at: string,
): Promise<StoredContact> {
  const details = contactDetails.parse(contact);
  const { approved = '' } = contact;
  const values = {
    first_name: contact.firstName,
    last_name: contact.lastName,
    email: contact.email.trim().toLowerCase(),
    details: JSON.stringify({ ...details, ...(approved !== '' && { approved }) }),
  };
  const id = contact.id ?? newId('co');
  if (contact.id) {
    await inTransaction(db, async (tx) => {
      await tx.updateTable('contact').set(values).where('id', '=', id).where('client_id', '=', clientId).execute();
      await markStale(tx, { clientId }, at);
    });
  } else {
    await inTransaction(db, async (tx) => {
      await tx
        .insertInto('contact')
        .values({ id, client_id: clientId, ...values, removed_at: null })
        .execute();
      await nameDomain(tx, clientId, domainOf(values.email));
    });
  }
  return { ...details, approved, id, firstName: values.first_name, lastName: values.last_name, email: values.email };
}

/** The present contact of a client that has this address, whoever asks. */
export async function contactWithEmail(db: Store, clientId: string, email: string): Promise<StoredContact | null> {
  const all = await contactsOf(db, clientId);
  return all.find((c) => c.email === email.trim().toLowerCase()) ?? null;
}

/** Says of a contact that they read no more, and why; what is not on its way yet follows. */
export async function setStanding(
  tx: Store,
  clientId: string,
  id: string,
  standing: StoredContact['standing'],
  at: string,
): Promise<void> {
  const row = await tx
    .selectFrom('contact')
    .select('details')
    .where('id', '=', id)
    .where('client_id', '=', clientId)
    .executeTakeFirst();
  if (!row) return;
  const details = JSON.stringify({ ...detailsIn(row.details), standing });
  await tx.updateTable('contact').set({ details }).where('id', '=', id).execute();
  await markStale(tx, { clientId }, at);
}

/** Present visible contacts who want no more mails, or whose mails come back. */
export const contactsWhoStopped = (
  db: Store,
  visibility: Visibility,
): Promise<{ clientId: string; contact: StoredContact }[]> =>
  cached(db, ['contact', ...VISIBILITY_TABLES], `stopped ${visibilityKey(visibility)}`, async () => {
    const rows = await db
      .selectFrom('contact')
      .select([...contactColumns, 'client_id'])
      .where(seenIn(visibility, 'contact.client_id'))
      .where('removed_at', 'is', null)
      .where((w) =>
        w.or([w('details', 'like', '%"standing":"declined"%'), w('details', 'like', '%"standing":"bounced"%')]),
      )
      .orderBy('id')
      .limit(500)
      .execute();
    return rows.map(({ client_id, ...row }) => ({ clientId: client_id, contact: contactFrom(row) }));
  });

export async function removeContact(db: Store, clientId: string, id: string, at: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    await tx
      .updateTable('contact')
      .set({ removed_at: at })
      .where('id', '=', id)
      .where('client_id', '=', clientId)
      .execute();
    await markStale(tx, { clientId }, at);
  });
}

/** Names, or ids of the agency's own, that are looked for in one statement. */
const MEANT_AT_ONCE = 500;

/** The visible clients that somebody may mean by these names, whatever their capitals, or by these ids of the agency's own. */
export async function clientsMeant(
  db: Store,
  visibility: Visibility,
  said: readonly Pick<ClientInput, 'name' | 'reference'>[],
): Promise<ClientHead[]> {
  const found = new Map<string, ClientHead>();
  const own = sql<string>`json_extract(settings, '$.reference')`;
  for (let i = 0; i < said.length; i += MEANT_AT_ONCE) {
    const part = said.slice(i, i + MEANT_AT_ONCE);
    const names = [...new Set(part.map((s) => folded(s.name)))];
    const references = [...new Set(part.flatMap((s) => (s.reference === '' ? [] : [s.reference])))];
    const rows = await db
      .selectFrom('client')
      .select(HEAD)
      .where(seenIn(visibility, 'client.id'))
      .where((w) =>
        w.or([
          w(sql<string>`${sql.raw(FOLDED)}(name)`, 'in', names),
          ...(references.length > 0 ? [w(own, 'in', references)] : []),
        ]),
      )
      .execute();
    for (const row of rows) found.set(row.id, headOf(row));
  }
  return [...found.values()];
}

/** The ids of all clients there are. */
export const allClientIds = async (db: Store): Promise<string[]> =>
  (await db.selectFrom('client').select('id').execute()).map((c) => c.id);

/**
 * Visible clients that a name or an id of the agency's own finds: an id finds its client, whatever that is called; a name finds one that has no
 * other id.
 */
export function clientsCalled(
  db: Store,
  visibility: Visibility,
  { name, reference }: Pick<ClientInput, 'name' | 'reference'>,
) {
  const own = sql<string>`coalesce(json_extract(settings, '$.reference'), '')`;
  const named = sql<boolean>`${sql.raw(FOLDED)}(name) = ${folded(name)}`;
  const query = db.selectFrom('client').select('id').where(seenIn(visibility, 'client.id'));
  if (reference === '') return query.where(named).execute();
  return query.where((w) => w.or([w(own, '=', reference), w.and([named, w(own, '=', '')])])).execute();
}
