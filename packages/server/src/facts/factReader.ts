import { toDayNumber } from '@chronicon/core/calendar';
import {
  type Columns,
  type Coverage,
  coverageOf,
  type Dataset,
  type DatasetShape,
  type Need,
} from '@chronicon/core/figures';
import type { Kysely } from 'kysely';
import { decodeChunk } from './chunkCodec.ts';
import type { FactTables } from './schema.ts';

type Db = Kysely<FactTables>;

export interface CoveredShape extends DatasetShape {
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
  const days = await db
    .selectFrom('coverage')
    .select(['dataset_id', 'day'])
    .where(
      'dataset_id',
      'in',
      rows.map((r) => r.id),
    )
    .execute();
  const byDataset = new Map<string, number[]>();
  for (const { dataset_id, day } of days) {
    const list = byDataset.get(dataset_id);
    if (list) list.push(day);
    else byDataset.set(dataset_id, [day]);
  }
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    firstDay: r.first_day,
    dimensions: JSON.parse(r.dimensions) as string[],
    measures: JSON.parse(r.measures) as string[],
    covered: coverageOf(byDataset.get(r.id) ?? []),
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

async function readColumns(db: Db, need: Need): Promise<Columns> {
  const { dataset, dimensions, measures } = need;
  const chunks = await db
    .selectFrom('chunk')
    .select(['month', 'rows', 'body'])
    .where('dataset_id', '=', dataset.id)
    .where('month', 'in', monthsOf(need))
    .orderBy('month')
    .execute();
  const rows = chunks.reduce((n, c) => n + c.rows, 0);
  const days = new Int32Array(rows);
  const codes = Object.fromEntries(dimensions.map((d) => [d, new Int32Array(rows)]));
  const values = Object.fromEntries(measures.map((m) => [m, new Float64Array(rows)]));
  let at = 0;
  for (const { month, body } of chunks) {
    const chunk = decodeChunk(body, dimensions, measures);
    const first = toDayNumber(`${month}-01`);
    for (let i = 0; i < chunk.days.length; i++) days[at + i] = first + chunk.days[i]!;
    for (const d of dimensions) codes[d]!.set(chunk.dims[d]!, at);
    for (const m of measures) values[m]!.set(chunk.measures[m]!, at);
    at += chunk.days.length;
  }
  const labels = await db
    .selectFrom('dim_value')
    .select(['dim', 'label'])
    .where('dataset_id', '=', dataset.id)
    .orderBy('dim')
    .orderBy('code')
    .execute();
  return {
    days,
    dims: Object.fromEntries(
      dimensions.map((d) => [d, { codes: codes[d]!, labels: labels.filter((l) => l.dim === d).map((l) => l.label) }]),
    ),
    measures: values,
  };
}

/** Reads each dataset once, with the columns and months that are needed, for the caller to aggregate. */
export async function readNeeds(db: Db, needs: Need<CoveredShape>[]): Promise<Dataset[]> {
  const out: Dataset[] = [];
  for (const need of needs) out.push({ ...need.dataset, columns: await readColumns(db, need) });
  return out;
}

/** Runs `work` in one read transaction: it sees one state of the facts, whatever is written meanwhile. */
export const readOnce = <T>(db: Db, work: (tx: Db) => Promise<T>): Promise<T> => db.transaction().execute(work);
