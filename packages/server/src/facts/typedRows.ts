import {
  addDays,
  type CivilDate,
  fromDayNumber,
  monthStart,
  type Range,
  toDayNumber,
  weekdayOf,
} from '@chronicon/core/calendar';
import { decodeChunk } from './chunkCodec.ts';
import { unmarkDelivered } from './coverage.ts';
import { type FactDb, inFactTransaction, replaceDays, saveDataset } from './factStore.ts';

/** A figure of a whole month or week, or that there is none any more. */
export interface TypedChange {
  stretch: Range;
  measure: { key: string; kind: 'sum' | 'level' };
  value: number | null;
}

/**
 * Writes typed-in figures, all or none. Each measure is a dataset of its own: where one is filled in and another is
 * not, the other stays unknown. A level is known as of its stretch's last day.
 */
export async function writeTyped(
  db: FactDb,
  typed: {
    feed: { id: string; client_id: string; name: string };
    grain: 'month' | 'week';
    measures: readonly { key: string }[];
    changes: readonly TypedChange[];
    at: string;
  },
): Promise<void> {
  const { feed, grain, changes, at } = typed;
  await inFactTransaction(db, async (tx) => {
    for (const [position, { key }] of typed.measures.entries()) {
      const own = changes.filter((c) => c.measure.key === key);
      if (own.length === 0) continue;
      const firstDay = own.map((c) => c.stretch.from).reduce((a, b) => (a < b ? a : b));
      const spec = { key, name: feed.name, firstDay, dimensions: [], measures: [key] };
      const owner = { feedId: feed.id, clientId: feed.client_id, position, feedName: feed.name, grain };
      const id = await saveDataset(tx, owner, spec);
      for (const { stretch, measure, value } of own) {
        const day = measure.kind === 'level' ? stretch.to : stretch.from;
        const rows = value === null ? [] : [{ day, dims: [], measures: [value] }];
        await replaceDays(tx, id, spec, stretch, rows, at);
        if (value === null) await unmarkDelivered(tx, id, toDayNumber(stretch.from), toDayNumber(stretch.to));
      }
    }
  });
}

/** What was typed into a feed: by the first day of the stretch, then by measure. */
export async function readTyped(db: FactDb, feedId: string): Promise<Map<CivilDate, Record<string, number>>> {
  const found = new Map<CivilDate, Record<string, number>>();
  const rows = await db
    .selectFrom('dataset')
    .innerJoin('chunk', 'chunk.dataset_id', 'dataset.id')
    .select(['key', 'grain', 'first_day', 'month', 'body'])
    .where('feed_id', '=', feedId)
    .execute();
  for (const { key, grain, first_day, month, body } of rows) {
    const chunk = decodeChunk(body, [], [key]);
    const first = toDayNumber(`${month}-01`);
    chunk.days.forEach((offset, i) => {
      const day = fromDayNumber(first + offset);
      const back = (weekdayOf(day) - weekdayOf(first_day) + 7) % 7;
      const start = grain === 'month' ? monthStart(day) : addDays(day, -back);
      found.set(start, { ...found.get(start), [key]: chunk.measures[key]![i]! });
    });
  }
  return found;
}
