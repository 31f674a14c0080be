import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import {
  answer,
  coverageOf,
  type Dataset,
  keyOf,
  lacksOf,
  metricBook,
  planReads,
  type Question,
  uncountedOf,
  uniquesOf,
} from './index.ts';

const first = toDayNumber('2026-10-01');
const october = { from: '2026-10-01', to: '2026-10-31' };
const september = { from: '2026-09-01', to: '2026-09-30' };
const DAYS = 31;

function dataset(id: string, dims: Record<string, string[]>, measures: Record<string, (i: number) => number>): Dataset {
  const per = Math.max(1, ...Object.values(dims).map((l) => l.length));
  const rows = DAYS * per;
  return {
    id,
    name: id,
    firstDay: '2026-01-01',
    dimensions: Object.keys(dims),
    measures: Object.keys(measures),
    covered: coverageOf(Array.from({ length: DAYS }, (_, i) => first + i)),
    columns: {
      days: Int32Array.from({ length: rows }, (_, i) => first + Math.floor(i / per)),
      dims: Object.fromEntries(
        Object.entries(dims).map(([d, labels]) => [
          d,
          { labels, codes: Int32Array.from({ length: rows }, (_, i) => i % labels.length) },
        ]),
      ),
      measures: Object.fromEntries(
        Object.entries(measures).map(([m, f]) => [m, Float64Array.from({ length: rows }, (_, i) => f(i))]),
      ),
    },
  };
}

const web = dataset(
  'web',
  { channel: ['Email', 'Paid search'] },
  { visits: () => 10, orders: (i) => i % 2, visitors: () => 8 },
);
const ads = dataset('ads', { campaign: ['Autumn'] }, { adCost: () => 3, adClicks: () => 2 });
const book = metricBook({
  changed: {},
  own: [
    {
      key: 'costPerOrder',
      label: 'Cost per order',
      unit: 'money',
      polarity: 'lower',
      formula: 'adCost / orders',
      definition: '',
    },
  ],
});
const knowledge = { book, targets: [] };
const total = (metric: string, filter = {}): Question => ({ op: 'total', metric, range: october, filter });
const ask = (q: Question, datasets: Dataset[] = [web, ads]) => answer(q, datasets, knowledge);

describe('a formula over several feeds', () => {
  it('takes each input from the dataset that has it, in total and day by day', () => {
    expect(ask(total('costPerOrder'))).toEqual({ op: 'total', value: { value: 3 } });
    const daily = ask({
      op: 'byDay',
      metric: 'costPerOrder',
      range: { from: '2026-10-01', to: '2026-10-02' },
      filter: {},
    });
    expect(daily).toEqual({ op: 'byDay', values: [3, 3] });
  });

  it('reads each dataset once, and only what it needs of it', () => {
    const needs = planReads([total('costPerOrder'), total('visits'), total('adClicks')], [web, ads], knowledge);
    expect(needs.map((n) => [n.dataset.id, n.measures])).toEqual([
      ['ads', ['adCost', 'adClicks']],
      ['web', ['orders', 'visits']],
    ]);
  });

  it('says what is missing: a feed, or only the filter', () => {
    expect(ask(total('costPerOrder'), [web])).toEqual({ op: 'total', value: { na: 'no-data' } });
    expect(ask(total('costPerOrder', { channel: ['Email'] }))).toEqual({
      op: 'total',
      value: { na: 'filtered-out-of-feed' },
    });
    expect(lacksOf([total('costPerOrder')], [web], knowledge)).toEqual([
      { kind: 'no-dataset', metrics: ['costPerOrder'] },
    ]);
  });

  it('keeps a column for metrics that a breakdown does not know', () => {
    const q: Question = {
      op: 'top',
      metrics: ['visits', 'adCost'],
      dimension: 'channel',
      n: 5,
      range: october,
      compared: null,
      filter: {},
    };
    const found = ask(q);
    if (found.op !== 'top' || 'na' in found.breakdown) throw new Error('no breakdown');
    expect(found.breakdown.rows.map((r) => r.cells.map((c) => c.current))).toEqual([
      [{ value: 310 }, { na: 'filtered-out-of-feed' }],
      [{ value: 310 }, { na: 'filtered-out-of-feed' }],
    ]);
  });
});

describe('a breakdown of metrics of several feeds', () => {
  const calls = dataset('calls', { channel: ['Email', 'Leaflet'] }, { calls: (i) => (i % 2 === 0 ? 2 : 7) });
  const by = (metrics: string[], n = 5): Question => ({
    op: 'top',
    metrics,
    dimension: 'channel',
    n,
    range: october,
    compared: null,
    filter: {},
  });
  const breakdown = (q: Question) => {
    const found = ask(q, [web, ads, calls]);
    if (found.op !== 'top' || 'na' in found.breakdown) throw new Error('no breakdown');
    return found.breakdown;
  };

  it('answers each whose feed has the dimension, joined by label; what others alone have is in the rest', () => {
    const { rows, other, total: all } = breakdown(by(['visits', 'adCost', 'calls']));
    const unknown = { na: 'filtered-out-of-feed' };
    expect(rows.map((r) => [r.label, ...r.cells.map((c) => c.current)])).toEqual([
      ['Email', { value: 310 }, unknown, { value: 62 }],
      ['Paid search', { value: 310 }, unknown, { value: 0 }],
    ]);
    expect(other?.map((c) => c.current)).toEqual([{ value: 0 }, unknown, { value: 217 }]);
    expect(all.map((c) => c.current)).toEqual([{ value: 620 }, unknown, { value: 279 }]);
    expect(planReads([by(['visits', 'calls'])], [web, ads, calls], knowledge).map((n) => n.dataset.id)).toEqual([
      'web',
      'calls',
    ]);
  });

  it('is led by the first metric that can be told, and says of each why another cannot', () => {
    const { rows } = breakdown(by(['adCost', 'leads', 'calls']));
    expect(rows.map((r) => [r.label, ...r.cells.map((c) => c.current)])).toEqual([
      ['Leaflet', { na: 'filtered-out-of-feed' }, { na: 'no-data' }, { value: 217 }],
      ['Email', { na: 'filtered-out-of-feed' }, { na: 'no-data' }, { value: 62 }],
    ]);
  });

  it('is not called a feed that is missing when it is the dimension', () => {
    const device: Question = { ...by(['visits']), dimension: 'device' } as Question;
    expect(lacksOf([total('visits'), device], [web, ads], knowledge)).toEqual([
      { kind: 'no-dimension', metrics: ['visits'], dimensions: ['device'] },
    ]);
    expect(lacksOf([by(['leads']), device], [web, ads], knowledge)).toMatchObject([
      { kind: 'no-dataset', metrics: ['leads'] },
      { kind: 'no-dimension', metrics: ['visits'] },
    ]);
  });
});

describe('uniques', () => {
  it('are asked of the feed for exactly the ranges and filters that are shown, each once', () => {
    const labels = () => ['Email', 'Paid search'];
    const top: Question = {
      op: 'top',
      metrics: ['visitors'],
      dimension: 'channel',
      n: 5,
      range: october,
      compared: september,
      filter: {},
    };
    const asks = uniquesOf([total('visitors'), top, total('visits')], [web, ads], knowledge, labels);
    expect(asks.map((a) => `${a.range.from} ${JSON.stringify(a.filter)}`).sort()).toEqual([
      '2026-09-01 {"channel":["Email"]}',
      '2026-09-01 {"channel":["Paid search"]}',
      '2026-09-01 {}',
      '2026-10-01 {"channel":["Email"]}',
      '2026-10-01 {"channel":["Paid search"]}',
      '2026-10-01 {}',
    ]);
  });

  it('are neither asked for nor waited for where days are judged, or drawn one by one', () => {
    const judged: Question[] = [
      {
        op: 'oddDays',
        metric: 'visitors',
        range: october,
        compared: september,
        filter: {},
      },
      { op: 'byDay', metric: 'visitors', range: october, filter: {} },
    ];
    expect(uniquesOf(judged, [web], knowledge, () => [])).toEqual([]);
    expect(uncountedOf(judged, [web], knowledge)).toEqual([]);
    expect(lacksOf(judged, [web], knowledge)).toEqual([]);
    expect(answer(judged[0]!, [web], knowledge)).toEqual({ op: 'oddDays', odd: { days: [], without: null } });
  });
});

it('names equal questions alike, whatever the order in which a filter was chosen', () => {
  const a = keyOf(total('visits', { device: ['Mobile', 'Tablet'], channel: ['Email'] }));
  expect(keyOf(total('visits', { channel: ['Email'], device: ['Tablet', 'Mobile'] }))).toBe(a);
});
