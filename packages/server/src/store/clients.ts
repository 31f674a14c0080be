import { clampDate } from '@chronicon/core/calendar';
import type { ClientInput, Contact } from '@chronicon/core/contract';
import { type MetricSettings, NO_SETTINGS } from '@chronicon/core/figures';
import type { Brand } from '@chronicon/core/report';
import type { Selectable, Updateable } from 'kysely';
import { markStale } from './following.ts';
import { newId } from './ids.ts';
import type { Member } from './members.ts';
import type { Tables } from './schema.ts';
import { inTransaction, type Store } from './store.ts';

export interface StoredClient extends ClientInput {
  id: string;
  managerId: string;
  brand: Brand;
  metrics: MetricSettings;
}

/** What of a client bears on dates. */
export type ClientRules = Pick<StoredClient, 'weekStart' | 'fiscalStart' | 'startDate'>;

export const DEFAULT_BRAND: Brand = { main: '#0f5e6b', second: '#a86a12', footer: '', logo: null };

const fromRow = (r: Selectable<Tables['client']>): StoredClient => ({
  id: r.id,
  name: r.name,
  site: r.site,
  zone: r.zone,
  currency: r.currency,
  language: r.language,
  weekStart: r.week_start,
  fiscalStart: r.fiscal_start,
  startDate: clampDate(r.start_date),
  managerId: r.manager_id,
  brand: JSON.parse(r.brand) as Brand,
  metrics: JSON.parse(r.metrics) as MetricSettings,
});

const toRow = (c: ClientInput) => ({
  name: c.name,
  site: c.site,
  zone: c.zone,
  currency: c.currency,
  language: c.language,
  week_start: c.weekStart,
  fiscal_start: c.fiscalStart,
  start_date: c.startDate,
});

export async function createClient(
  db: Store,
  input: ClientInput,
  by: { managerId: string; at: string; brand?: Brand },
): Promise<StoredClient> {
  const id = newId('cl');
  const brand = by.brand ?? DEFAULT_BRAND;
  await db
    .insertInto('client')
    .values({
      id,
      ...toRow(input),
      manager_id: by.managerId,
      brand: JSON.stringify(brand),
      metrics: JSON.stringify(NO_SETTINGS),
      created_at: by.at,
    })
    .execute();
  await db.insertInto('assignment').values({ client_id: id, member_id: by.managerId }).execute();
  return { ...input, id, managerId: by.managerId, brand, metrics: NO_SETTINGS };
}

/** Changes a client's row; its editions that are not on their way follow, in the same transaction. */
const change = (db: Store, id: string, values: Updateable<Tables['client']>, at: string): Promise<void> =>
  inTransaction(db, async (tx) => {
    await tx.updateTable('client').set(values).where('id', '=', id).execute();
    await markStale(tx, { clientId: id }, at);
  });

export const updateClient = (db: Store, id: string, input: ClientInput, at: string): Promise<void> =>
  change(db, id, toRow(input), at);

export const updateBrand = (db: Store, id: string, brand: Brand, at: string): Promise<void> =>
  change(db, id, { brand: JSON.stringify(brand) }, at);

export const updateMetrics = (db: Store, id: string, metrics: MetricSettings, at: string): Promise<void> =>
  change(db, id, { metrics: JSON.stringify(metrics) }, at);

export async function clientById(db: Store, id: string): Promise<StoredClient | null> {
  const row = await db.selectFrom('client').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

/** Owners see every client, the others those assigned to them. */
export async function clientsSeenBy(db: Store, member: Member): Promise<StoredClient[]> {
  let query = db.selectFrom('client').selectAll().orderBy('name');
  if (member.role !== 'owner') {
    query = query.where('id', 'in', (q) =>
      q.selectFrom('assignment').select('client_id').where('member_id', '=', member.id),
    );
  }
  return (await query.execute()).map(fromRow);
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

const contactColumns = ['id', 'first_name as firstName', 'last_name as lastName', 'email'] as const;

/** Present contacts; those removed are found by {@link contactsByIds} alone. */
export async function contactsOf(db: Store, clientId: string): Promise<Contact[]> {
  return db
    .selectFrom('contact')
    .select(contactColumns)
    .where('client_id', '=', clientId)
    .where('removed_at', 'is', null)
    .orderBy('first_name')
    .execute();
}

/** The present contacts of one client among `ids`: another client's people never come out of it. */
export async function contactsByIds(db: Store, clientId: string, ids: readonly string[]): Promise<Contact[]> {
  if (ids.length === 0) return [];
  const found = await contactsOf(db, clientId);
  return ids.flatMap((id) => found.find((c) => c.id === id) ?? []);
}

export async function saveContact(
  db: Store,
  clientId: string,
  contact: Omit<Contact, 'id'> & { id?: string },
  at: string,
): Promise<Contact> {
  const values = {
    first_name: contact.firstName,
    last_name: contact.lastName,
    email: contact.email.trim().toLowerCase(),
  };
  const id = contact.id ?? newId('co');
  if (contact.id) {
    await inTransaction(db, async (tx) => {
      await tx.updateTable('contact').set(values).where('id', '=', id).where('client_id', '=', clientId).execute();
      await markStale(tx, { clientId }, at);
    });
  } else {
    await db
      .insertInto('contact')
      .values({ id, client_id: clientId, ...values, removed_at: null })
      .execute();
  }
  return { id, firstName: values.first_name, lastName: values.last_name, email: values.email };
}

/** The present contact of a client that has this address, whoever asks. */
export async function contactWithEmail(db: Store, clientId: string, email: string): Promise<Contact | null> {
  const all = await contactsOf(db, clientId);
  return all.find((c) => c.email === email.trim().toLowerCase()) ?? null;
}

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
