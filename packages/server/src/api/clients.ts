import { MOST_NAMES } from '@chronicon/core/bounds';
import { civilDateAt } from '@chronicon/core/calendar';
import { readSettings, SETTING_LIST, type SettingField } from '@chronicon/core/client';
import type { Client, ClientInput, ClientRow, RouteName } from '@chronicon/core/contract';
import { settleBrand } from '@chronicon/core/report';
import { datasetStates } from '../facts/factStore.ts';
import { isService } from '../feeds/registry.ts';
import { atField } from '../platform/refusal.ts';
import { calendarById, calendars } from '../store/agencyCalendar.ts';
import {
  type ClientHead,
  clientById,
  clientNames,
  clientsCounted,
  contactsOf,
  createClient,
  findClients,
  newBrand,
  type StoredClient,
  updateBrand,
} from '../store/clients.ts';
import { lastSentOf } from '../store/editions.ts';
import { feedsOf, feedsOfAll } from '../store/feeds.ts';
import { record } from '../store/ledger.ts';
import { agencyOf, memberById, memberNames } from '../store/members.ts';
import { listsOf } from '../store/readerLists.ts';
import { nextOfClients } from '../store/runs.ts';
import { schedulesCounted } from '../store/schedules.ts';
import { inTransaction, type Store } from '../store/store.ts';
import { tagsIn, tagsOf } from '../store/tags.ts';
import { updateClient } from '../store/updateClient.ts';
import { theClient } from './access.ts';
import { changing } from './changing.ts';
import { describeContact } from './contacts.ts';
import type { Api, Handlers } from './context.ts';
import { defaultMail, MAIL_TEXTS } from './reports.ts';
import { checkTypefaces } from './typefaces.ts';

/** Clients that one manager may have. */
const MOST_OF_ONE = 10_000;
const PAGE_SIZE = 50;

export async function describeClient(db: Store, id: string): Promise<Client> {
  const client = (await clientById(db, id))!;
  const { metrics: _, ...rest } = client;
  const { settings } = (await agencyOf(db))!;
  const manager = (await memberById(db, client.managerId))?.name ?? '';
  const tags = (await tagsOf(db, [id])).get(id)!;
  return {
    ...rest,
    drawn: settleBrand(client.brand, settings.brand),
    manager,
    tags,
    fixed: await whyFixed(db, client),
    contacts: (await contactsOf(db, id)).map((c) => describeContact(client, c)),
    lists: await listsOf(db, id),
    mail: defaultMail(client),
    mailTexts: MAIL_TEXTS,
  };
}

/** A page of clients with what a list says of each: read in a few statements, however many there are. */
async function describeRows(api: Api, clients: readonly ClientHead[]): Promise<ClientRow[]> {
  const { store } = api;
  const ids = clients.map((c) => c.id);
  const feeds = await feedsOfAll(store, ids);
  // Files and typed-in figures come when somebody brings them: they do not say how far the services are.
  const asked = ids.flatMap((id) => {
    const own = feeds.filter((f) => f.client_id === id);
    const fetched = own.filter((f) => isService(f.kind));
    return fetched.length > 0 ? fetched : own;
  });
  const clientOf = new Map(asked.map((f) => [f.id, f.client_id]));
  const states = await datasetStates(
    api.facts,
    asked.map((f) => f.id),
  );
  const next = await nextOfClients(store, ids, api.clock.now());
  const schedules = await schedulesCounted(store, ids);
  const sent = await lastSentOf(store, ids);
  const managers = await memberNames(store);
  const tags = await tagsOf(store, ids);
  return clients.map(({ managerId, ...client }) => {
    const own = feeds.filter((f) => f.client_id === client.id);
    const through = states.filter((s) => clientOf.get(s.feedId) === client.id).map((s) => s.coveredThrough);
    return {
      ...client,
      manager: managers.get(managerId) ?? '',
      tags: tags.get(client.id) ?? [],
      next: next.get(client.id) ?? null,
      feeds: {
        count: own.length,
        troubled: own.filter((f) => f.trouble !== null).length,
        coveredThrough: through.sort()[0] ?? null,
      },
      schedules: schedules.get(client.id) ?? 0,
      lastSent: sent.get(client.id) ?? null,
    };
  });
}

/** What was fetched cannot be counted anew: a feed keeps the client's zone and currency. Null where none is connected. */
async function whyFixed(db: Store, client: StoredClient): Promise<string | null> {
  const feeds = await feedsOf(db, client.id);
  if (feeds.length === 0) return null;
  const named = feeds.slice(0, 3).map((f) => `“${f.name}”`);
  const more = feeds.length > 3 ? [`${feeds.length - 3} more`] : [];
  const all = new Intl.ListFormat('en-GB').format([...named, ...more]);
  return `Time zone and currency can’t change while ${all} ${feeds.length === 1 ? 'is' : 'are'} connected: ${feeds.length === 1 ? 'its' : 'their'} data uses ${client.zone} and ${client.currency}.`;
}

async function checkFeeds(db: Store, client: StoredClient, input: ClientInput): Promise<void> {
  const why = await whyFixed(db, client);
  if (why === null) return;
  for (const field of ['zone', 'currency'] as const) if (input[field] !== client[field]) throw atField(field, why);
}

/** A calendar that there is. */
async function checkCalendar(db: Store, { calendar }: Pick<ClientInput, 'calendar'>): Promise<void> {
  if (calendar !== '' && !(await calendarById(db, calendar))) throw atField('calendar', 'Calendar not found.');
}

export const clientHandlers: Handlers<
  Extract<
    RouteName,
    | `${string} /api/clients${'' | '/names' | '/scopes' | '/settings'}`
    | `${string} /api/clients/:client${'' | '/brand' | '/logo'}`
  >
> = {
  'GET /api/clients': async ({ api, session, query }) => {
    const page = { offset: (query.page - 1) * PAGE_SIZE, limit: PAGE_SIZE };
    const { clients, total } = await findClients(
      api.store,
      { member: session.member, scope: query.scope },
      query.text.trim(),
      page,
    );
    return { clients: await describeRows(api, clients), total, pageSize: PAGE_SIZE };
  },

  'GET /api/clients/settings': async ({ api }) => {
    const { zone, weekStart, language } = (await agencyOf(api.store))!;
    const kept = (await calendars(api.store)).map((c) => ({ value: c.id, label: c.name }));
    const offered = (field: SettingField): SettingField =>
      field.kind === 'choice' && field.from === 'calendars'
        ? { ...field, options: [{ value: '', label: 'The agency’s' }, ...kept] }
        : field;
    return {
      settings: SETTING_LIST.map(([key, { label, hint, field }]) => ({
        key,
        label,
        ...(hint && { hint }),
        field: offered(field),
      })),
      fresh: { ...readSettings({}), zone, weekStart, language, startDate: civilDateAt(api.clock.now(), zone) },
    };
  },

  'GET /api/clients/scopes': async ({ api, session: { member } }) => {
    const mine = await clientsCounted(api.store, { member, scope: 'mine' });
    return { tags: await tagsIn(api.store, { member }), mine };
  },

  'GET /api/clients/names': async ({ api, session: { member }, query }) =>
    clientNames(
      api.store,
      { member, scope: query.scope },
      {
        text: query.text.trim(),
        ids: query.ids.split(',').filter((id) => id !== ''),
        // Whoever hands all of their own clients over names each of them.
        limit: query.scope === 'mine' ? MOST_OF_ONE : MOST_NAMES,
      },
    ),

  'POST /api/clients': async ({ api, session, body }) => {
    const at = api.clock.now();
    await checkCalendar(api.store, body);
    const brand = newBrand((await agencyOf(api.store))!.settings.brand);
    return inTransaction(api.store, async (tx) => {
      const client = await createClient(tx, body, { managerId: session.member.id, at, brand });
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
    await checkCalendar(api.store, body);
    // Whoever names no domain leaves those that there are: without any, the guard would let nobody through.
    const input = { ...body, domains: body.domains || client.domains };
    await changing(api, session, 'client.changed', client.id, (tx, at) => updateClient(tx, client.id, input, at));
    return describeClient(api.store, params.client);
  },

  'PUT /api/clients/:client/brand': async ({ api, session, params, body }) => {
    const client = await theClient(api.store, session.member, params.client);
    // Whoever does not say what follows the agency's has all of it of their own.
    const brand = { ...client.brand, ...body, follows: body.follows ?? [] };
    const { settings } = (await agencyOf(api.store))!;
    await changing(api, session, 'brand.changed', client.id, async (tx, at) => {
      await checkTypefaces(tx, brand.typefaces);
      await updateBrand(tx, client.id, brand, at, settleBrand(brand, settings.brand).main);
    });
    return describeClient(api.store, client.id);
  },

  'DELETE /api/clients/:client/logo': async ({ api, session, params, query }) => {
    const client = await theClient(api.store, session.member, params.client);
    const brand = { ...client.brand, [query.as]: null };
    await changing(api, session, 'brand.changed', client.id, (tx, at) => updateBrand(tx, client.id, brand, at));
    return describeClient(api.store, client.id);
  },
};
