import type { Range } from '@chronicon/core/calendar';
import { type Reading, reading } from '@chronicon/core/contract';
import {
  columnUse,
  DATE_STYLES,
  type FileHints,
  type FileMapping,
  fileMapping,
  type Inspection,
  NUMBER_STYLES,
} from '@chronicon/core/feeds';
import type { Selectable } from 'kysely';
import { z } from 'zod';
import { newId } from './ids.ts';
import type { Tables } from './schema.ts';
import type { Store } from './store.ts';
import { stored, storedOnce } from './stored.ts';
import { seenIn, type Visibility } from './visibility.ts';

/** A row of a file as it stands, with what is wrong with it. */
interface HeadRow {
  number: number;
  cells: (string | number | null)[];
  fault: string | null;
  currencies?: Record<number, string>;
}

export interface StoredImport {
  id: string;
  clientId: string;
  feedId: string | null;
  fileName: string;
  /** Below the data folder. */
  path: string;
  bytes: number;
  hints: FileHints | null;
  reading: Reading | null;
  /** What was found out of it, and its first rows. */
  looked: { inspection: Inspection; head: HeadRow[] } | null;
  mapping: FileMapping | null;
  state: Tables['file_import']['state'];
  problem: string | null;
  source: Tables['file_import']['source'];
  progress: number;
  good: number;
  bad: number;
  range: { from: string; to: string } | null;
  rejects: string | null;
  /** Days that are not known because of the rows that were set aside. */
  unknown: Range[];
  madeBy: string | null;
  at: string;
  /** When its figures came to count; null before. */
  doneAt: string | null;
}

const optional =
  <T>(read: (text: string) => T) =>
  (text: string | null): T | null =>
    text === null || text === '' ? null : read(text);

const hintsIn = optional(
  stored<FileHints>(
    z.object({
      separator: z.string().nullable(),
      encoding: z.string().nullable(),
      header: z.boolean().nullable(),
      columns: z.record(
        z.string(),
        z.object({
          type: z.enum(['date', 'number', 'text']),
          dates: z.enum(DATE_STYLES).nullable(),
          numbers: z.enum(NUMBER_STYLES).nullable(),
        }),
      ),
    }),
    'what a description says of a file',
  ),
);
const readingIn = optional(stored<Reading>(reading, 'how a file is read'));
/** How the columns of a file become figures, as it is stored. */
export const mappingIn = storedOnce<FileMapping>(fileMapping, 'what the columns of a file are');
const ranges = z.array(z.object({ from: z.string(), to: z.string() }));
const rangesIn = stored<Range[]>(ranges, 'days that are not known');

const cell = z.union([z.string(), z.number(), z.null()]);
const inspection: z.ZodType<Inspection> = z.object({
  headerAt: z.number(),
  columns: z.array(
    z.object({
      name: z.string(),
      samples: z.array(z.string()),
      use: columnUse,
      rates: z.literal(true).exactOptional(),
      unit: z.enum(['duration', 'percent', 'money']).exactOptional(),
      currency: z.string().exactOptional(),
      currencies: z.array(z.string()).exactOptional(),
    }),
  ),
  mapping: fileMapping,
  totals: z.array(z.number()),
  doubts: z.array(z.enum(['dates', 'numbers', 'currency', 'rates'])),
  dateStyles: z.array(z.enum(DATE_STYLES)),
  notices: z.array(z.string()),
  days: z.object({ from: z.string(), to: z.string() }).nullable(),
  wide: z
    .object({
      headerAt: z.number(),
      width: z.number(),
      kept: z.array(z.object({ at: z.number(), name: z.string() })),
      days: z.array(z.object({ at: z.number(), text: cell })),
      metrics: z.object({ at: z.number(), names: z.array(z.string()) }).nullable(),
    })
    .exactOptional(),
});
const lookedIn = optional(
  stored<NonNullable<StoredImport['looked']>>(
    z.object({
      inspection,
      head: z.array(
        z.object({
          number: z.number(),
          cells: z.array(cell),
          fault: z.string().nullable(),
          currencies: z.record(z.string(), z.string()).exactOptional(),
        }),
      ),
    }),
    'what was found out of a file',
  ),
);

const fromRow = (r: Selectable<Tables['file_import']>): StoredImport => ({
  id: r.id,
  clientId: r.client_id,
  feedId: r.feed_id,
  fileName: r.file_name,
  path: r.path,
  bytes: r.bytes,
  hints: hintsIn(r.hints),
  reading: readingIn(r.reading),
  looked: lookedIn(r.inspection),
  mapping: optional(mappingIn)(r.mapping),
  state: r.state,
  problem: r.problem,
  source: r.source,
  progress: r.progress,
  good: r.rows_good,
  bad: r.rows_bad,
  range: r.first !== null && r.last !== null ? { from: r.first, to: r.last } : null,
  rejects: r.rejects,
  unknown: rangesIn(r.unknown),
  madeBy: r.made_by,
  at: r.created_at,
  doneAt: r.done_at,
});

const text = (value: unknown): string | null => (value === null || value === undefined ? null : JSON.stringify(value));

const toRow = (i: Partial<StoredImport>) => ({
  ...(i.unknown !== undefined && { unknown: JSON.stringify(i.unknown) }),
  ...(i.feedId !== undefined && { feed_id: i.feedId }),
  ...(i.doneAt !== undefined && { done_at: i.doneAt }),
  ...(i.hints !== undefined && { hints: text(i.hints) }),
  ...(i.reading !== undefined && { reading: text(i.reading) ?? '' }),
  ...(i.looked !== undefined && { inspection: text(i.looked) }),
  ...(i.mapping !== undefined && { mapping: text(i.mapping) }),
  ...(i.state !== undefined && { state: i.state }),
  ...(i.problem !== undefined && { problem: i.problem }),
  ...(i.progress !== undefined && { progress: i.progress }),
  ...(i.good !== undefined && { rows_good: i.good }),
  ...(i.bad !== undefined && { rows_bad: i.bad }),
  ...(i.range !== undefined && { first: i.range?.from ?? null, last: i.range?.to ?? null }),
  ...(i.rejects !== undefined && { rejects: i.rejects }),
});

export async function createImport(
  db: Store,
  i: Pick<
    StoredImport,
    'clientId' | 'feedId' | 'fileName' | 'path' | 'bytes' | 'hints' | 'source' | 'madeBy' | 'at'
  > & {
    id: string;
  },
): Promise<void> {
  await db
    .insertInto('file_import')
    .values({
      id: i.id,
      client_id: i.clientId,
      feed_id: i.feedId,
      file_name: i.fileName,
      path: i.path,
      bytes: i.bytes,
      hints: text(i.hints),
      reading: '',
      inspection: null,
      mapping: null,
      state: 'looking',
      problem: null,
      source: i.source,
      progress: 0,
      rows_good: 0,
      rows_bad: 0,
      first: null,
      last: null,
      rejects: null,
      made_by: i.madeBy,
      created_at: i.at,
      done_at: null,
    })
    .execute();
}

export const newImportId = (): string => newId('im');

export async function importById(db: Store, id: string): Promise<StoredImport | null> {
  const row = await db.selectFrom('file_import').selectAll().where('id', '=', id).executeTakeFirst();
  return row ? fromRow(row) : null;
}

/** The newest first. */
export async function importsOf(db: Store, clientId: string): Promise<StoredImport[]> {
  const rows = await db
    .selectFrom('file_import')
    .selectAll()
    .where('client_id', '=', clientId)
    .orderBy('created_at', 'desc')
    .orderBy('id', 'desc')
    .limit(200)
    .execute();
  return rows.map(fromRow);
}

/** Visible files that came by themselves and wait for a person. */
export async function importsWaiting(db: Store, visibility: Visibility): Promise<StoredImport[]> {
  const rows = await db
    .selectFrom('file_import')
    .selectAll()
    .where('state', '=', 'asking')
    .where('source', '!=', 'dropped')
    .where(seenIn(visibility, 'file_import.client_id'))
    .orderBy('created_at', 'desc')
    .execute();
  return rows.map(fromRow);
}

/** Days of a feed that its newest import left open, since rows of them could not be read. */
export interface OpenDays {
  importId: string;
  feedId: string;
  clientId: string;
  fileName: string;
  days: Range[];
}

/** What the newest imports of feeds left open; an import before it says nothing any more. */
const leavingDaysOpen = (db: Store) =>
  db
    .selectFrom('file_import')
    .innerJoin('feed', 'feed.id', 'file_import.feed_id')
    .select([
      'file_import.id as importId',
      'feed.id as feedId',
      'file_import.client_id as clientId',
      'file_import.file_name as fileName',
      'file_import.unknown',
    ])
    .where('file_import.state', '=', 'done')
    .where('file_import.unknown', '!=', '[]')
    .where('feed.state', '!=', 'removed')
    .where(({ not, exists, selectFrom }) =>
      not(
        exists(
          selectFrom('file_import as later')
            .select('later.id')
            .whereRef('later.feed_id', '=', 'file_import.feed_id')
            .where('later.state', '=', 'done')
            .whereRef('later.done_at', '>', 'file_import.done_at'),
        ),
      ),
    );

const toOpenDays = ({ unknown, ...row }: Omit<OpenDays, 'days'> & { unknown: string }): OpenDays => ({
  ...row,
  days: rangesIn(unknown),
});

/** Visible feeds of which a file left days open. */
export async function openDaysSeen(db: Store, visibility: Visibility): Promise<OpenDays[]> {
  const rows = await leavingDaysOpen(db).where(seenIn(visibility, 'file_import.client_id')).execute();
  return rows.flatMap((r) => (r.feedId === null ? [] : [toOpenDays(r)]));
}

/** The days that these feeds' files left open, by feed. */
export async function openDaysOf(db: Store, feedIds: readonly string[]): Promise<Map<string, OpenDays>> {
  if (feedIds.length === 0) return new Map();
  const rows = await leavingDaysOpen(db).where('feed.id', 'in', feedIds).execute();
  return new Map(rows.map((r) => [r.feedId, toOpenDays(r)]));
}

export async function importsIn(db: Store, states: StoredImport['state'][]): Promise<StoredImport[]> {
  const rows = await db.selectFrom('file_import').selectAll().where('state', 'in', states).execute();
  return rows.map(fromRow);
}

export async function updateImport(db: Store, id: string, patch: Partial<StoredImport>): Promise<void> {
  await db.updateTable('file_import').set(toRow(patch)).where('id', '=', id).execute();
}

/** Moves an import on, if it still is where it is thought to be. */
export async function moveImport(
  db: Store,
  id: string,
  from: StoredImport['state'],
  patch: Partial<StoredImport>,
): Promise<boolean> {
  const found = await db
    .updateTable('file_import')
    .set(toRow(patch))
    .where('id', '=', id)
    .where('state', '=', from)
    .executeTakeFirst();
  return found.numUpdatedRows > 0n;
}

export async function removeImport(db: Store, id: string): Promise<void> {
  await db.deleteFrom('file_import').where('id', '=', id).execute();
}
