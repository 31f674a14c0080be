import { addDays, type CivilDate, fromDayNumber, startOfDay, toDayNumber } from '@chronicon/core/calendar';
import type { Kysely, Transaction } from 'kysely';
import type { FactTables } from './schema.ts';

/** Days for which it is kept when they were first delivered. */
const KEPT_DAYS = 60;
/** What comes later than this after its day is history that was fetched, not a habit. */
const LATEST_DAYS = 3;
/** A feed that was asked this recently, in hours, did not have the day then. */
const ASKED_HOURS = 3;
/** Arrivals that make a habit, at least; and the share of them that a habit covers. */
const ENOUGH = 5;
const SHARE = 0.8;

/**
 * Notes when a day was there for the first time; before it is marked as delivered, in the same transaction. Where the feed
 * was not asked shortly before, nobody knows since when it was there: that is no habit of the feed's.
 */
export async function noteArrival(
  tx: Transaction<FactTables>,
  datasetId: string,
  day: CivilDate,
  at: string,
): Promise<void> {
  if (at.slice(0, 10) > addDays(day, LATEST_DAYS)) return;
  const before = await tx
    .selectFrom('coverage')
    .select((q) => q.fn.max('fetched_at').as('at'))
    .where('dataset_id', '=', datasetId)
    .executeTakeFirst();
  if (!before?.at || Date.parse(at) - Date.parse(before.at) > ASKED_HOURS * 3_600_000) return;
  const number = toDayNumber(day);
  await tx
    .insertInto('arrival')
    .values({ dataset_id: datasetId, day: number, at })
    .onConflict((c) => c.doNothing())
    .execute();
  await tx
    .deleteFrom('arrival')
    .where('dataset_id', '=', datasetId)
    .where('day', '<', number - KEPT_DAYS)
    .execute();
}

/** When a feed's figures of a day are usually there. */
export interface Habit {
  feedId: string;
  /** Minutes after the day has ended, on the client's clock. */
  minutes: number;
}

/** The habits of feeds that have delivered often enough to have one: by then, four days of five were there. */
export async function habitsOf(
  db: Kysely<FactTables>,
  feeds: readonly { id: string; zone: string }[],
): Promise<Habit[]> {
  if (feeds.length === 0) return [];
  const rows = await db
    .selectFrom('arrival')
    .innerJoin('dataset', 'dataset.id', 'arrival.dataset_id')
    .select(['dataset.feed_id', 'arrival.day', 'arrival.at'])
    .where(
      'dataset.feed_id',
      'in',
      feeds.map((f) => f.id),
    )
    .execute();
  const zones = new Map(feeds.map((f) => [f.id, f.zone]));
  /** Of each feed and day the last of its datasets. */
  const waits = new Map<string, Map<number, number>>();
  for (const { feed_id: feed, day, at } of rows) {
    const ended = startOfDay(addDays(fromDayNumber(day), 1), zones.get(feed)!);
    const minutes = Math.round((Date.parse(at) - Date.parse(ended)) / 60_000);
    const own = waits.get(feed) ?? new Map<number, number>();
    own.set(day, Math.max(own.get(day) ?? 0, minutes));
    waits.set(feed, own);
  }
  return [...waits].flatMap(([feedId, days]) => {
    const sorted = [...days.values()].sort((a, b) => a - b);
    if (sorted.length < ENOUGH) return [];
    return { feedId, minutes: sorted[Math.ceil(sorted.length * SHARE) - 1]! };
  });
}
