import { type CivilDate, fromDayNumber, toDayNumber } from '@chronicon/core/calendar';
import { type Columns, type Dataset, FEED, type Grain, type Need, rowsOf } from '@chronicon/core/figures';
import type { Kysely } from 'kysely';
import { storedNames } from '../store/stored.ts';
import { type Chunk, decodeInto } from './chunkCodec.ts';
import type { ColumnCache } from './columnCache.ts';
import { coverageById } from './coverage.ts';
import type { CoveredShape } from './coveredShape.ts';
import { type FeedPast, PAST } from './feedPast.ts';
import { reportedOf } from './reported.ts';
import type { FactTables } from './schema.ts';
import { spanFamilies } from './span.ts';

type Db = Kysely<FactTables>;

/** The datasets of a client, in the order in which they are asked, with the days that each has delivered. */
export async function datasetsOf(db: Db, clientId: string): Promise<CoveredShape[]> {
  const rows = await db
    .selectFrom('dataset')
    .selectAll()
    .where('client_id', '=', clientId)
    .orderBy('feed_id')
    .orderBy('position')
    .execute();
  if (rows.length === 0) return [];
  const covered = await coverageById(
    db,
    rows.map((r) => r.id),
  );
  const pasts = await pastsOf(
    db,
    rows.map((r) => r.feed_id),
  );
  const members = rows.map((r) => ({
    past: pasts.get(r.feed_id) ?? PAST,
    until: null,
    id: r.id,
    feedId: r.feed_id,
    feedName: r.feed_name,
    family: r.family,
    key: r.key,
    name: r.name,
    firstDay: r.first_day,
    ended: r.ended === null ? null : fromDayNumber(r.ended),
    dimensions: storedNames(r.dimensions),
    measures: storedNames(r.measures),
    grain: r.grain as Grain,
    covered: covered.get(r.id) ?? [],
  }));
  return spanFamilies(members);
}

/** What was said of the past of feeds. */
export async function pastsOf(db: Db, feedIds: readonly string[]): Promise<Map<string, FeedPast>> {
  const rows = await db.selectFrom('feed_past').selectAll().where('feed_id', 'in', feedIds).execute();
  return new Map(rows.map(({ feed_id, ...past }) => [feed_id, past]));
}

/** The state of a client's facts: another text whenever any of them, or what is known of them, has changed. */
export async function factsRevision(db: Db, clientId: string): Promise<string> {
  const rows = await db
    .selectFrom('dataset')
    .select(['id', 'revision'])
    .where('client_id', '=', clientId)
    .orderBy('id')
    .execute();
  return rows.map((r) => `${r.id}:${r.revision}`).join(' ');
}

/** {@link factsRevision} of every client that has facts. */
export async function factsRevisions(db: Db): Promise<Map<string, string>> {
  const rows = await db
    .selectFrom('dataset')
    .select(['id', 'revision', 'client_id'])
    .orderBy('client_id')
    .orderBy('id')
    .execute();
  const found = new Map<string, string>();
  for (const { client_id, id, revision } of rows) {
    const before = found.get(client_id);
    found.set(client_id, before === undefined ? `${id}:${revision}` : `${before} ${id}:${revision}`);
  }
  return found;
}

/** Months, `YYYY-MM`, that any of the ranges touches. */
function monthsOf(need: Need): string[] {
  const months = new Set<string>();
  for (const { from, to } of need.ranges) {
    for (let m = from.slice(0, 7); m <= to.slice(0, 7); ) {
      months.add(m);
      const [year, month] = [Number(m.slice(0, 4)), Number(m.slice(5, 7))];
      m = month === 12 ? `${year + 1}-01` : `${year}-${String(month + 1).padStart(2, '0')}`;
    }
  }
  return [...months].sort();
}

/** What is read of one stored dataset. */
type Part = Pick<Need, 'dimensions' | 'measures'> & { dataset: { id: string } };

async function readStored(db: Db, part: Part, months: readonly string[]): Promise<Columns> {
  const { dataset, dimensions, measures } = part;
  const chunks = await db
    .selectFrom('chunk')
    .select(['month', 'rows', 'body'])
    .where('dataset_id', '=', dataset.id)
    .where('month', 'in', months)
    .orderBy('month')
    .execute();
  const rows = chunks.reduce((n, c) => n + c.rows, 0);
  const out: Chunk = {
    days: new Int32Array(rows),
    dims: Object.fromEntries(dimensions.map((d) => [d, new Int32Array(rows)])),
    measures: Object.fromEntries(measures.map((m) => [m, new Float64Array(rows)])),
  };
  let at = 0;
  for (const { month, body } of chunks) at += decodeInto(body, out, at, toDayNumber(`${month}-01`));
  const labels = await db
    .selectFrom('dim_value')
    .select(['dim', 'label'])
    .where('dataset_id', '=', dataset.id)
    .where('dim', 'in', dimensions.length > 0 ? dimensions : [''])
    .orderBy('dim')
    .orderBy('code')
    .execute();
  return {
    days: out.days,
    dims: Object.fromEntries(
      dimensions.map((d) => [
        d,
        { codes: out.dims[d]!, labels: labels.filter((l) => l.dim === d).map((l) => l.label) },
      ]),
    ),
    measures: out.measures,
  };
}

/** Columns of several feeds one below the other, in order of days; a label that one does not have is empty. */
function joinFeeds(parts: readonly { feed: string; columns: Columns }[], need: Need): Columns {
  const rows = parts.reduce((n, p) => n + p.columns.days.length, 0);
  const days = new Int32Array(rows);
  const from = new Int32Array(rows);
  const row = new Int32Array(rows);
  const at = parts.map(() => 0);
  for (let i = 0; i < rows; i++) {
    let next = -1;
    for (let p = 0; p < parts.length; p++) {
      const own = parts[p]!.columns.days;
      if (at[p]! < own.length && (next < 0 || own[at[p]!]! < days[i]!)) {
        next = p;
        days[i] = own[at[p]!]!;
      }
    }
    from[i] = next;
    row[i] = at[next]!++;
  }
  const dims: Record<string, { codes: Int32Array; labels: string[] }> = {};
  for (const d of need.dimensions) {
    const labels: string[] = [];
    const known = new Map<string, number>();
    const codeOf = (label: string) => {
      const code = known.get(label) ?? labels.push(label) - 1;
      known.set(label, code);
      return code;
    };
    const maps = parts.map((p) =>
      d === FEED ? [codeOf(p.feed)] : (p.columns.dims[d]?.labels.map(codeOf) ?? [codeOf('')]),
    );
    const codes = new Int32Array(rows);
    for (let i = 0; i < rows; i++) {
      const p = from[i]!;
      const own = d === FEED ? undefined : parts[p]!.columns.dims[d]?.codes;
      codes[i] = maps[p]![own ? own[row[i]!]! : 0]!;
    }
    dims[d] = { codes, labels };
  }
  const measures: Record<string, Float64Array> = {};
  for (const m of need.measures) {
    const values = new Float64Array(rows);
    for (let i = 0; i < rows; i++) values[i] = parts[from[i]!]!.columns.measures[m]?.[row[i]!] ?? 0;
    measures[m] = values;
  }
  return { days, dims, measures };
}

/** The rows up to a day, itself included. */
function upTo({ days, dims, measures }: Columns, day: CivilDate): Columns {
  const { end } = rowsOf({ days, dims, measures }, { from: day, to: day });
  return {
    days: days.subarray(0, end),
    dims: Object.fromEntries(
      Object.entries(dims).map(([d, { codes, labels }]) => [d, { codes: codes.subarray(0, end), labels }]),
    ),
    measures: Object.fromEntries(Object.entries(measures).map(([m, values]) => [m, values.subarray(0, end)])),
  };
}

async function readColumns(db: Db, need: Need<CoveredShape>, months: readonly string[]): Promise<Columns> {
  const { members } = need.dataset;
  if (!members) return readStored(db, need, months);
  const parts: { feed: string; columns: Columns }[] = [];
  for (const m of members) {
    const part = {
      dataset: m,
      dimensions: need.dimensions.filter((d) => m.dimensions.includes(d)),
      measures: need.measures.filter((x) => m.measures.includes(x)),
    };
    const columns = await readStored(db, part, months);
    parts.push({ feed: m.feedName, columns: m.until === null ? columns : upTo(columns, m.until) });
  }
  return joinFeeds(parts, need);
}

/** Reads each dataset once, with the columns and months that are needed, for the caller to aggregate: in one transaction. */
export async function readNeeds(db: Db, needs: Need<CoveredShape>[], cache?: ColumnCache): Promise<Dataset[]> {
  const out: Dataset[] = [];
  for (const need of needs) {
    const months = monthsOf(need);
    const read = () => readColumns(db, need, months);
    const key = [need.dataset.id, ...months, ...need.dimensions, ...need.measures].join(' ');
    const columns = cache ? await cache.through(db, key, read) : await read();
    out.push({ ...need.dataset, columns, reported: need.uniques ? await reportedOf(db, need.dataset.id) : [] });
  }
  return out;
}

/** Runs `work` in one read transaction: it sees one state of the facts, whatever is written meanwhile. */
export const inSnapshot = <T>(db: Db, work: (tx: Db) => Promise<T>): Promise<T> => db.transaction().execute(work);
