import { fork } from 'node:child_process';
import { join } from 'node:path';
import { addDays, addMonths, monthEnd, type Range, toDayNumber } from '@chronicon/core/calendar';
import { answerAll, type Dataset, planReads, type Question, STANDARD } from '@chronicon/core/figures';
import {
  type ColumnCache,
  createColumnCache,
  datasetsOf,
  type FactDb,
  type FactRow,
  inSnapshot,
  openFactReader,
  openFacts,
  readNeeds,
  replaceDays,
  saveDataset,
} from '@chronicon/server/facts';
import { sql } from 'kysely';
import { median, report, timings } from './measure.ts';

const CLIENTS = 30;
const FIRST = '2024-11-01';
const LAST = '2026-10-31';
export const MEASURES = ['visits', 'pageViews', 'bounces', 'engagedSeconds', 'orders', 'revenue', 'leads'];
/** Three datasets of a client, each with dimensions of its own. */
const DATASETS = [
  { key: 'visits', dimensions: ['channel', 'device', 'country'] },
  { key: 'landing', dimensions: ['landingPage', 'device'] },
  { key: 'campaigns', dimensions: ['campaign', 'country'] },
];

/** A number in [0, 1) from two others, the same everywhere. */
const chance = (a: number, b: number): number => Math.abs(Math.sin(a * 12.9898 + b * 78.233) * 43_758.5453) % 1;

const labelOf = (dimension: string, i: number): string =>
  `${dimension} ${i % { channel: 6, device: 3, country: 5, landingPage: 40, campaign: 25 }[dimension]!}`;

/** A month of rows; `of` makes each client's its own. */
export function rowsOf(of: number, dimensions: string[], range: Range, perDay: number): FactRow[] {
  const rows: FactRow[] = [];
  for (let day = range.from; day <= range.to; day = addDays(day, 1)) {
    const n = toDayNumber(day);
    for (let i = 0; i < perDay; i++) {
      const visits = Math.floor(chance(n + of, i) * 180);
      const orders = Math.floor(visits * 0.03);
      rows.push({
        day,
        dims: dimensions.map((d, at) => labelOf(d, i + at * n)),
        measures: [visits, visits * 3, visits >> 1, visits * 71, orders, (orders * 4_850) / 100, visits % 7],
      });
    }
  }
  return rows;
}

export function* months(first = FIRST, last = LAST): Generator<Range> {
  for (let from = first; from <= last; from = addMonths(from, 1)) yield { from, to: monthEnd(from) };
}

async function writeClients(facts: FactDb, perDay: number): Promise<{ rows: number; seconds: number }> {
  let rows = 0;
  let milliseconds = 0;
  for (let c = 0; c < CLIENTS; c++) {
    for (const [position, { key, dimensions }] of DATASETS.entries()) {
      const spec = { key, name: key, firstDay: FIRST, dimensions, measures: MEASURES };
      const id = await saveDataset(
        facts,
        { feedId: `fe_${c}_${perDay}`, clientId: `cl_${c}_${perDay}`, position },
        spec,
      );
      for (const range of months()) {
        const month = rowsOf(c * 7 + position, dimensions, range, perDay);
        const began = performance.now();
        await replaceDays(facts, id, spec, range, month, '2026-11-01T05:00:00.000Z');
        milliseconds += performance.now() - began;
        rows += month.length;
      }
    }
  }
  return { rows, seconds: milliseconds / 1_000 };
}

type Asked = Extract<Question, { op: 'total' | 'byDay' | 'top' }>;

/** Sixteen questions of a report over three datasets. */
function questions(range: Range, compared: Range): Asked[] {
  const filter = { device: ['device 1'] };
  const total = (metric: string, r: Range, f = {}): Asked => ({ op: 'total', metric, range: r, filter: f });
  const top = (dimension: string, n: number, ...metrics: string[]): Asked => ({
    op: 'top',
    metrics,
    dimension,
    n,
    range,
    compared,
    filter: {},
  });
  return [
    total('visits', range),
    total('visits', compared),
    total('orders', range),
    total('orders', compared),
    total('bounceRate', range),
    total('bounceRate', compared),
    total('revenue', range, filter),
    total('revenue', compared, filter),
    { op: 'byDay', metric: 'visits', range, filter: {} },
    { op: 'byDay', metric: 'visits', range: compared, filter: {} },
    { op: 'byDay', metric: 'revenue', range, filter: {} },
    top('channel', 6, 'visits', 'orders'),
    top('landingPage', 10, 'visits', 'bounceRate'),
    top('campaign', 10, 'revenue'),
    top('device', 3, 'visits'),
    top('country', 5, 'leads'),
  ];
}

/** The same sixteen sums by bare loops over columns in memory: the floor that the core is held against. */
function plainLoops(asked: readonly Asked[], datasets: readonly Dataset[]): number {
  let check = 0;
  for (const q of asked) {
    const metrics = q.op === 'top' ? q.metrics : [q.metric];
    const dimension = q.op === 'top' ? q.dimension : Object.keys(q.filter)[0];
    const dataset = datasets.find((d) => dimension === undefined || d.columns.dims[dimension])!;
    const { days } = dataset.columns;
    const column = dimension === undefined ? null : dataset.columns.dims[dimension]!;
    const wanted = q.op === 'top' ? -1 : (column?.labels.indexOf('device 1') ?? -1);
    for (const range of q.op === 'top' && q.compared ? [q.range, q.compared] : [q.range]) {
      const [lo, hi] = [toDayNumber(range.from), toDayNumber(range.to)];
      let start = 0;
      while (days[start]! < lo) start++;
      let end = start;
      while (days[end]! <= hi) end++;
      for (const key of metrics) {
        const a = STANDARD.lookup(key);
        for (const measure of a.kind === 'ratio' ? [a.num, a.den] : a.kind === 'sum' ? [a.measure] : []) {
          const values = dataset.columns.measures[measure]!;
          const sums = new Float64Array(q.op === 'top' ? column!.labels.length : q.op === 'byDay' ? hi - lo + 1 : 1);
          if (q.op === 'top') for (let i = start; i < end; i++) sums[column!.codes[i]!]! += values[i]!;
          else if (q.op === 'byDay') for (let i = start; i < end; i++) sums[days[i]! - lo]! += values[i]!;
          else if (wanted < 0) for (let i = start; i < end; i++) sums[0]! += values[i]!;
          else for (let i = start; i < end; i++) if (column!.codes[i] === wanted) sums[0]! += values[i]!;
          check += sums[0]!;
        }
      }
    }
  }
  return check;
}

const SPANS = [
  {
    name: 'month against last year',
    range: ['2026-10-01', '2026-10-31'],
    compared: ['2025-10-01', '2025-10-31'],
    at: 0,
  },
  { name: 'year against year', range: ['2025-11-01', '2026-10-31'], compared: ['2024-11-01', '2025-10-31'], at: 1 },
] as const;
const LIMITS: Record<number, readonly [number, number]> = { 50: [15, 100], 200: [40, 200] };

/** Sixteen questions over three datasets for each of thirty clients; how fast rows are written; bytes a row. */
export async function benchFigures(folder: string): Promise<void> {
  for (const perDay of [50, 200]) {
    const facts = await openFacts(folder);
    const written = await writeClients(facts, perDay);
    const reader = openFactReader(folder);
    const rate = written.rows / written.seconds;
    const size = await facts
      .selectFrom('chunk')
      .select(({ fn }) => [fn.sum<number>('rows').as('rows'), sql<number>`sum(length(body))`.as('bytes')])
      .executeTakeFirstOrThrow();
    console.log(
      `${perDay} rows a day: ${written.rows.toLocaleString('en')} rows with labels written, ${Math.round(rate).toLocaleString('en')} a second ` +
        `(${(rate / 200_000).toFixed(2)} of the 200,000 promised), ${(Number(size.bytes) / Number(size.rows)).toFixed(1)} bytes a row`,
    );
    for (const span of SPANS) {
      const [range, compared] = [span.range, span.compared].map(([from, to]) => ({ from, to })) as [Range, Range];
      const asked = questions(range, compared);
      const cache = createColumnCache(64 * 1024 * 1024);
      const read = (i: number, kept?: ColumnCache) =>
        inSnapshot(reader, async (tx) => {
          const shapes = await datasetsOf(tx, `cl_${i % CLIENTS}_${perDay}`);
          return readNeeds(tx, planReads(asked, shapes), kept);
        });
      const whole = await timings(CLIENTS * 2, CLIENTS, async (i) => answerAll(asked, await read(i)));
      report(`16 questions, ${perDay} rows a day, ${span.name}`, whole, LIMITS[perDay]![span.at]);
      const again = await timings(CLIENTS * 2, CLIENTS, async (i) => answerAll(asked, await read(i, cache)));
      const inMemory = await read(0);
      const answering = median(await timings(40, 20, () => answerAll(asked, inMemory)));
      const loops = median(await timings(40, 20, () => plainLoops(asked, inMemory)));
      console.log(
        `  plain loops over columns in memory ${loops.toFixed(2)} ms: with reading ${(median(whole) / loops).toFixed(1)} times that, through the columns kept by a worker (64 MB) ${(median(again) / loops).toFixed(1)}, answering alone ${(answering / loops).toFixed(1)}`,
      );
    }
    await reader.destroy();
    await facts.destroy();
  }
  await benchBoth(folder);
}

/** Reading beside a writer of another process that never pauses, and the writer beside a reader: neither waits. */
async function benchBoth(folder: string): Promise<void> {
  const [range, compared] = [SPANS[0].range, SPANS[0].compared].map(([from, to]) => ({ from, to })) as [Range, Range];
  const asked = questions(range, compared);
  const reader = openFactReader(folder);
  const read = (i: number) =>
    inSnapshot(reader, async (tx) => {
      const shapes = await datasetsOf(tx, `cl_${i % CLIENTS}_200`);
      return answerAll(asked, await readNeeds(tx, planReads(asked, shapes)));
    });
  const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
  /** Reads for so long, letting what the writer says come in between. */
  const readFor = async (milliseconds: number): Promise<number[]> => {
    const times: number[] = [];
    for (const end = performance.now() + milliseconds; performance.now() < end; await pause(0)) {
      times.push(...(await timings(1, 0, () => read(times.length))));
    }
    return times;
  };
  await readFor(500);
  const alone = median(await readFor(1_000));
  const writer = fork(join(import.meta.dirname, '../../build/bench/writer.mjs'), [folder]);
  const slices: { at: number; rate: number }[] = [];
  writer.on('message', (rate) => slices.push({ at: performance.now(), rate: rate as number }));
  await pause(6_000);
  const quiet = slices.slice(-15).map((s) => s.rate);
  const began = performance.now();
  const beside = await readFor(3_000);
  const busy = slices.filter((s) => s.at > began).map((s) => s.rate);
  writer.kill();
  await reader.destroy();
  const worst = Math.max(...beside);
  console.log(
    `reading 16 questions: alone ${alone.toFixed(1)} ms, beside an import ${median(beside).toFixed(1)} ms (${(median(beside) / alone).toFixed(2)} times), slowest ${worst.toFixed(0)} ms`,
  );
  console.log(
    `importing: alone ${Math.round(median(quiet)).toLocaleString('en')} rows/s, beside reading ${Math.round(median(busy)).toLocaleString('en')} rows/s (${(median(busy) / median(quiet)).toFixed(2)} times)`,
  );
}
