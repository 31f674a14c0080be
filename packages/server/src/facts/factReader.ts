import { toDayNumber } from '@chronicon/core/calendar';
import type { Columns, Coverage, Dataset, DatasetShape, Need } from '@chronicon/core/figures';
import type { Kysely } from 'kysely';
import { type Chunk, decodeInto } from './chunkCodec.ts';
import type { ColumnCache } from './columnCache.ts';
import { coverageById } from './coverage.ts';
import { reportedOf } from './reported.ts';
import type { FactTables } from './schema.ts';

type Db = Kysely<FactTables>;

export interface CoveredShape extends DatasetShape {
  feedId: string;
  /** Its name at the feed. */
  key: string;
  covered: Coverage;
}

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
  return rows.map((r) => ({
    id: r.id,
    feedId: r.feed_id,
    key: r.key,
    name: r.name,
    firstDay: r.first_day,
    dimensions: JSON.parse(r.dimensions) as string[],
    measures: JSON.parse(r.measures) as string[],
    covered: covered.get(r.id) ?? [],
  }));
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

async function readColumns(db: Db, need: Need, months: readonly string[]): Promise<Columns> {
  const { dataset, dimensions, measures } = need;
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
export const readOnce = <T>(db: Db, work: (tx: Db) => Promise<T>): Promise<T> => db.transaction().execute(work);
