import { guard } from '@chronicon/core/client';
import type { ScheduleReader } from '@chronicon/core/report';
import { type Formatter, formatterOf } from '@chronicon/core/words';
import { habitsOf } from '../facts/arrivals.ts';
import { isService } from '../feeds/registry.ts';
import { grouped } from '../platform/grouped.ts';
import { peopleIn } from '../scheduler/ordersOfRun.ts';
import { calendars } from '../store/agencyCalendar.ts';
import { type ClientHead, clientsByIds, contactsOfAll, type StoredContact } from '../store/clients.ts';
import { feedsOfAll } from '../store/feeds.ts';
import { type Agency, agencyOf, memberNames } from '../store/members.ts';
import { listsOfAll, type ReaderList } from '../store/readerLists.ts';
import type { Api } from './context.ts';
import type { FeedHabit, WarnedReader } from './runWarnings.ts';

/** What surrounds the schedules of a client: its holidays, its feeds, and those who may read. */
export interface ClientAround {
  client: ClientHead;
  zone: string;
  agency: Agency;
  whose: 'the agency' | 'the client';
  feeds: readonly FeedHabit[];
  english: Formatter;
  contacts: ReadonlyMap<string, StoredContact>;
  lists: readonly ReaderList[];
  members: ReadonlyMap<string, string>;
}

/**
 * What surrounds the schedules of these clients: read in a few statements, however many they are.
 * @param wanted without their feeds where no run is looked at
 */
export async function aroundOf(
  api: Pick<Api, 'store' | 'facts'>,
  clientIds: readonly string[],
  { feeds: wanted = true }: { feeds?: boolean } = {},
): Promise<Map<string, ClientAround>> {
  const { store, facts } = api;
  const agency = (await agencyOf(store))!;
  const clients = await clientsByIds(store, clientIds);
  const kept = new Map((await calendars(store)).map((c) => [c.id, c]));
  const contacts = await contactsOfAll(store, clientIds);
  const lists = await listsOfAll(store, clientIds);
  const members = await memberNames(store);
  const feeds = wanted ? (await feedsOfAll(store, clientIds)).filter((f) => isService(f.kind)) : [];
  const zoned = feeds.map((f) => ({ id: f.id, zone: clients.get(f.client_id)!.zone }));
  const habits = new Map((await habitsOf(facts, zoned)).map((h) => [h.feedId, h.minutes]));
  const named = grouped(
    feeds,
    (f) => f.client_id,
    (f): FeedHabit => ({ name: f.name, minutes: habits.get(f.id) ?? null }),
  );
  return new Map(
    [...clients.values()].map((client) => {
      const days = client.calendar === '' ? undefined : kept.get(client.calendar)?.days;
      const around: ClientAround = {
        client,
        zone: client.zone,
        agency: days ? { ...agency, holidays: days.map((d) => d.date), namedHolidays: days } : agency,
        whose: client.calendar === '' ? 'the agency' : 'the client',
        feeds: named.get(client.id) ?? [],
        english: formatterOf('en-GB', client.currency),
        contacts: new Map((contacts.get(client.id) ?? []).map((c) => [c.id, c])),
        lists: lists.get(client.id) ?? [],
        members,
      };
      return [client.id, around];
    }),
  );
}

/** The people whom readers stand for now, as warnings speak of them; who was removed is nobody. */
export const peopleAround = (around: ClientAround, readers: readonly ScheduleReader[]): WarnedReader[] =>
  peopleIn(readers, around.lists).flatMap((r): WarnedReader | [] => {
    if ('member' in r) {
      const name = around.members.get(r.member);
      return name === undefined ? [] : { id: r.member, name, fault: null, consents: true };
    }
    const c = around.contacts.get(r.contact);
    if (!c) return [];
    const name = `${c.firstName} ${c.lastName}`.trim();
    return { id: c.id, name, fault: guard(around.client, c), consents: c.consent !== null };
  });
