import { notFound } from '../platform/refusal.ts';
import { clientById, maySee, type StoredClient } from '../store/clients.ts';
import { type EditionRow, editionById } from '../store/editions.ts';
import { feedById, type StoredFeed } from '../store/feeds.ts';
import type { Member } from '../store/members.ts';
import { reportById, type StoredReport } from '../store/reports.ts';
import { type StoredSchedule, scheduleById } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';

/** The client, if it exists and the member may see it. @throws Refusal 404 in either other case */
export async function theClient(db: Store, member: Member, id: string): Promise<StoredClient> {
  const client = await clientById(db, id);
  if (!client || !(await maySee(db, member, id))) throw notFound('client');
  return client;
}

async function owned<T>(
  db: Store,
  member: Member,
  found: T | null,
  clientId: (t: T) => string,
  what: string,
): Promise<T> {
  if (!found || !(await maySee(db, member, clientId(found)))) throw notFound(what);
  return found;
}

/** A report that is not deleted. */
export async function theReport(db: Store, member: Member, id: string): Promise<StoredReport> {
  const report = await reportById(db, id);
  return owned(db, member, report?.removedAt === null ? report : null, (r) => r.clientId, 'report');
}

export const theSchedule = async (db: Store, member: Member, id: string): Promise<StoredSchedule> =>
  owned(db, member, await scheduleById(db, id), (s) => s.clientId, 'schedule');

export const theEdition = async (db: Store, member: Member, id: string): Promise<EditionRow> =>
  owned(db, member, await editionById(db, id), (e) => e.client_id, 'edition');

/** A feed of this very client. */
export async function theFeed(db: Store, member: Member, clientId: string, id: string): Promise<StoredFeed> {
  const feed = await feedById(db, id);
  if (!feed || feed.client_id !== clientId || !(await maySee(db, member, clientId))) throw notFound('feed');
  return feed;
}
