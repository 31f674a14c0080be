import {
  filterOfGroup,
  isPlainMail,
  type OrderSheet,
  ownOfSchedule,
  periodOfRun,
  type ReaderRef,
  type ReadersGroup,
  readerKey,
  type ScheduleReader,
} from '@chronicon/core/report';
import { listsOf, type ReaderList } from '../store/readerLists.ts';
import type { StoredReport } from '../store/reports.ts';
import type { StoredSchedule } from '../store/schedules.ts';
import type { Store } from '../store/store.ts';

/**
 * People whom readers of a client stand for, each once: whoever is named stands where that says, whoever is on lists alone
 * where the first of them says.
 */
export function peopleIn(readers: readonly ScheduleReader[], lists: readonly ReaderList[]): ReaderRef[] {
  const named: ReaderRef[] = readers.flatMap((r) => ('list' in r ? [] : [r]));
  const listed = readers.flatMap((r) => {
    if (!('list' in r)) return [];
    const contacts = lists.find((l) => l.id === r.list)?.contacts ?? [];
    return contacts.map((contact): ReaderRef => ({ contact, ...(r.as && { as: r.as }) }));
  });
  const once = new Map<string, ReaderRef>();
  for (const r of [...named, ...listed]) if (!once.has(readerKey(r))) once.set(readerKey(r), r);
  return [...once.values()];
}

/** {@link peopleIn} by the lists of the client as they are now. */
export const peopleOf = async (db: Store, clientId: string, readers: readonly ScheduleReader[]): Promise<ReaderRef[]> =>
  peopleIn(readers, readers.some((r) => 'list' in r) ? await listsOf(db, clientId) : []);

/** The groups of a schedule for each of which a run has an edition: one without a name where there are none. */
export const groupIdsOf = (s: Pick<StoredSchedule, 'groups'>): string[] => s.groups?.groups.map((g) => g.id) ?? [''];

/** A group of a schedule; null for the edition of one without groups. @throws Error for one that it has no more */
export function groupOf(s: Pick<StoredSchedule, 'groups'>, id: string): ReadersGroup | null {
  const found = s.groups?.groups.find((g) => g.id === id) ?? null;
  if (id !== '' && !found) throw new Error(`the schedule has no group ${id}`);
  return found;
}

/** Whom the edition of a group is for: its own readers, and those whom the schedule has for all of them. */
export const readersOfGroup = (s: Pick<StoredSchedule, 'groups' | 'readers'>, id: string): ScheduleReader[] => {
  const own = groupOf(s, id)?.readers ?? [];
  const known = new Set(own.map(readerKey));
  return [...own, ...s.readers.filter((r) => !known.has(readerKey(r)))];
};

/** What an edition of a schedule has of it whatever its dates are. */
export function choicesOf(s: StoredSchedule, groupId: string) {
  const group = groupOf(s, groupId);
  const filter = group ? [...s.filter, ...filterOfGroup(s.groups!, group)] : s.filter;
  const fileName = group?.fileName || s.fileName;
  return {
    ...ownOfSchedule({ ...s, filter }),
    ...(group && { group: group.value }),
    ...(s.pages && { pages: s.pages }),
    ...(s.leftOut.length > 0 && { leftOut: s.leftOut }),
    ...(fileName !== '' && { fileName }),
    ...(s.formats.length > 0 && { formats: s.formats }),
    ...(s.mailing !== 'each' && { mailing: s.mailing }),
    ...(!isPlainMail(s.mail) && { mail: s.mail }),
    subject: s.subject,
    message: group?.greeting ? `${group.greeting}\n\n${s.message}` : s.message,
  };
}

/** The order sheet of a schedule's run for one group of its readers, as schedule, lists and release are now. */
export async function ordersFor(
  db: Store,
  s: StoredSchedule,
  report: StoredReport,
  nominal: string,
  groupId: string,
): Promise<OrderSheet> {
  return {
    title: report.release?.title ?? report.title,
    period: periodOfRun(s.period, s.exceptions[nominal]),
    comparison: s.comparison,
    ...choicesOf(s, groupId),
    asOf: nominal,
    readers: await peopleOf(db, s.clientId, readersOfGroup(s, groupId)),
  };
}

/** Ids of those whom a schedule addresses now for one group of its readers; nobody where it has no such group. */
export async function readersNow(db: Store, s: StoredSchedule, groupId: string): Promise<Set<string>> {
  if (!groupIdsOf(s).includes(groupId)) return new Set();
  return new Set((await peopleOf(db, s.clientId, readersOfGroup(s, groupId))).map(readerKey));
}
