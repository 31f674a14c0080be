import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, toDayNumber } from '../calendar/index.ts';
import {
  aggregate,
  answerAll,
  byDay,
  changeOf,
  coverageOf,
  type Dataset,
  isKnown,
  keyOf,
  lacksOf,
  type Question,
  topOf,
} from './index.ts';

type Fact = { day: string; channel: string; visits: number; orders: number; revenue: number };

/** A dataset of these rows whose days from `first` on, `days` of them, were delivered. */
function datasetOf(facts: Fact[], first = '2026-10-01', days = 31): Dataset {
  const rows = [...facts].sort((a, b) => (a.day < b.day ? -1 : 1));
  const labels = [...new Set(rows.map((r) => r.channel))];
  const column = (key: 'visits' | 'orders' | 'revenue') => Float64Array.from(rows, (r) => r[key]);
  const start = toDayNumber(first);
  return {
    id: 'd',
    name: 'Visits',
    firstDay: first,
    dimensions: ['channel'],
    measures: ['visits', 'orders', 'revenue'],
    covered: coverageOf(Array.from({ length: days }, (_, i) => start + i)),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r.day)),
      dims: { channel: { labels, codes: Int32Array.from(rows, (r) => labels.indexOf(r.channel)) } },
      measures: { visits: column('visits'), orders: column('orders'), revenue: column('revenue') },
    },
  };
}

const sum = (measure: string) => ({ kind: 'sum', measure }) as const;
const rate = { kind: 'ratio', num: 'orders', den: 'visits' } as const;
const october = { from: '2026-10-01', to: '2026-10-31' };
const fact = (day: string, channel: string, visits: number, orders: number): Fact => ({
  day,
  channel,
  visits,
  orders,
  revenue: orders * 10,
});

const factArb = fc.record({
  day: fc.integer({ min: 0, max: 30 }).map((n) => addDays('2026-10-01', n)),
  channel: fc.constantFrom('Direct', 'Email', 'Paid search', 'Social'),
  visits: fc.integer({ min: 0, max: 5_000 }),
  orders: fc.integer({ min: 0, max: 300 }),
  revenue: fc.integer({ min: 0, max: 900_000 }).map((cents) => cents / 100),
});

describe('aggregate', () => {
  it('divides the sums, never averages daily ratios', () => {
    const d = datasetOf([fact('2026-10-01', 'Direct', 1_000, 10), fact('2026-10-02', 'Direct', 10, 5)]);
    expect(aggregate(d, rate, october, {})).toEqual({ value: 15 / 1_010 });
  });

  it('takes a covered day without rows as zero and an uncovered one as unknown', () => {
    const d = datasetOf([fact('2026-10-01', 'Direct', 7, 1)], '2026-10-01', 10);
    expect(aggregate(d, sum('visits'), { from: '2026-10-01', to: '2026-10-10' }, {})).toEqual({ value: 7 });
    expect(aggregate(d, sum('visits'), { from: '2026-10-01', to: '2026-10-20' }, {})).toEqual({
      value: 7,
      partial: true,
      share: 0.5,
    });
    expect(aggregate(d, sum('visits'), { from: '2026-10-11', to: '2026-10-20' }, {})).toEqual({ na: 'not-covered' });
  });

  it('has nothing to say of days before the dataset began, or of a dimension it lacks', () => {
    const d = datasetOf([]);
    expect(aggregate(d, sum('visits'), { from: '2026-09-01', to: '2026-09-30' }, {})).toEqual({ na: 'before-start' });
    expect(aggregate(d, sum('visits'), october, { device: ['Mobile'] })).toEqual({ na: 'filtered-out-of-feed' });
    expect(aggregate(d, rate, october, {})).toEqual({ na: 'zero-denominator' });
  });

  it('adds up: the parts of a filter make the whole, and days make the period', () => {
    fc.assert(
      fc.property(fc.array(factArb, { maxLength: 60 }), (facts) => {
        const d = datasetOf(facts);
        const whole = aggregate(d, sum('visits'), october, {});
        const parts = ['Direct', 'Email', 'Paid search', 'Social'].map((c) =>
          aggregate(d, sum('visits'), october, { channel: [c] }),
        );
        const add = (values: (number | null)[]) => values.reduce<number>((n, v) => n + (v ?? 0), 0);
        expect(isKnown(whole) && whole.value).toBe(add(parts.map((p) => (isKnown(p) ? p.value : 0))));
        expect(isKnown(whole) && whole.value).toBe(add(byDay(d, sum('visits'), october, {})));
      }),
    );
  });
});

describe('byDay', () => {
  it('leaves a gap where a day was not delivered or has nothing to divide by', () => {
    const d = datasetOf([fact('2026-10-01', 'Direct', 10, 1)], '2026-10-01', 2);
    expect(byDay(d, rate, { from: '2026-10-01', to: '2026-10-03' }, {})).toEqual([0.1, null, null]);
  });
});

describe('topOf', () => {
  const facts = [
    fact('2026-10-05', 'Direct', 50, 5),
    fact('2026-10-05', 'Email', 30, 9),
    fact('2026-10-05', 'Social', 20, 1),
    fact('2026-09-05', 'Direct', 40, 4),
    fact('2026-09-05', 'Radio', 10, 2),
  ];
  const d = datasetOf(facts, '2026-09-01', 61);
  const september = { from: '2026-09-01', to: '2026-09-30' };

  it('ranks, marks what is new, and puts the rest and what is gone into Other with ratios made anew', () => {
    const found = topOf(d, [sum('visits'), rate], {
      dimension: 'channel',
      n: 2,
      range: october,
      compared: september,
      filter: {},
    });
    if ('na' in found) throw new Error('not available');
    expect(found.rows.map((r) => [r.label, r.status])).toEqual([
      ['Direct', 'both'],
      ['Email', 'new'],
    ]);
    expect(found.other).toEqual([
      { current: { value: 20 }, compared: { value: 10 } },
      { current: { value: 1 / 20 }, compared: { value: 2 / 10 } },
    ]);
    expect(found.total[1]!.current).toEqual({ value: 15 / 100 });
    expect([found.fresh, found.gone]).toEqual([['Email', 'Social'], ['Radio']]);
  });

  it('breaks ties by label in code-point order', () => {
    const tied = datasetOf([
      fact('2026-10-05', 'b', 5, 0),
      fact('2026-10-05', 'B', 5, 0),
      fact('2026-10-05', 'a', 5, 0),
    ]);
    const found = topOf(tied, [sum('visits')], {
      dimension: 'channel',
      n: 3,
      range: october,
      compared: null,
      filter: {},
    });
    expect('rows' in found && found.rows.map((r) => r.label)).toEqual(['B', 'a', 'b']);
  });

  it('adds up with Other to the total, whatever the rows', () => {
    fc.assert(
      fc.property(fc.array(factArb, { minLength: 1, maxLength: 60 }), fc.integer({ min: 1, max: 4 }), (some, n) => {
        const found = topOf(datasetOf(some), [sum('visits')], {
          dimension: 'channel',
          n: n,
          range: october,
          compared: null,
          filter: {},
        });
        if ('na' in found) throw new Error('not available');
        const value = (v: unknown) => (v as { value: number }).value;
        const shown = found.rows.reduce((t, r) => t + value(r.cells[0]!.current), 0);
        expect(shown + (found.other ? value(found.other[0]!.current) : 0)).toBe(value(found.total[0]!.current));
      }),
    );
  });
});

describe('changeOf', () => {
  it('judges by polarity, and calls small moves steady', () => {
    const by = (
      current: number,
      compared: number,
      polarity: 'higher' | 'lower' | 'neutral',
      unit: 'count' | 'percent' = 'count',
    ) => changeOf({ value: current }, { value: compared }, unit, polarity).verdict;
    expect(by(110, 100, 'higher')).toBe('better');
    expect(by(110, 100, 'lower')).toBe('worse');
    expect(by(110, 100, 'neutral')).toBe('changed');
    expect(by(100.4, 100, 'higher')).toBe('steady');
    expect(by(0.0504, 0.05, 'higher', 'percent')).toBe('steady');
    expect(by(0.051, 0.05, 'higher', 'percent')).toBe('better');
  });

  it('has no rate from zero, and no verdict on what is partial or unknown', () => {
    expect(changeOf({ value: 5 }, { value: 0 }, 'count', 'higher')).toMatchObject({
      rel: { na: 'zero-denominator' },
      new: true,
      verdict: 'better',
    });
    expect(changeOf({ value: 5, partial: true, share: 0.5 }, { value: 4 }, 'count', 'higher').verdict).toBe('none');
    expect(changeOf({ na: 'no-data' }, { na: 'before-start' }, 'count', 'higher')).toEqual({
      abs: { na: 'no-data' },
      rel: { na: 'no-data' },
      verdict: 'none',
    });
  });

  it('is antisymmetric', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, min: -1e9, max: 1e9 }),
        fc.double({ noNaN: true, min: -1e9, max: 1e9 }),
        (a, b) => {
          const there = changeOf({ value: a }, { value: b }, 'count', 'higher').abs as number;
          const back = changeOf({ value: b }, { value: a }, 'count', 'higher').abs as number;
          expect(there + back).toBe(0);
        },
      ),
    );
  });
});

describe('questions', () => {
  const total = (range: { from: string; to: string }, metric = 'visits'): Question => ({
    op: 'total',
    metric,
    range,
    filter: {},
  });

  it('are answered under a key that does not depend on how they were written', () => {
    const a = total(october);
    const b = { filter: {}, range: { to: october.to, from: october.from }, metric: 'visits', op: 'total' } as Question;
    expect(keyOf(a)).toBe(keyOf(b));
    expect(Object.keys(answerAll([a, b], [datasetOf([])]))).toHaveLength(1);
  });

  it('name every day that is missing, but none from before the dataset began', () => {
    const d = datasetOf([], '2026-10-03', 10);
    expect(lacksOf([total(october), total({ from: '2026-09-01', to: '2026-09-30' })], [d])).toEqual([
      { kind: 'days', dataset: 'Visits', datasetId: 'd', missing: [{ from: '2026-10-13', to: '2026-10-31' }] },
    ]);
    expect(lacksOf([total({ from: '2026-10-01', to: '2026-10-12' })], [d])).toEqual([]);
    expect(lacksOf([total(october, 'leads')], [d])).toEqual([{ kind: 'no-dataset', metrics: ['leads'] }]);
  });
});
