import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, toDayNumber } from '../calendar/index.ts';
import {
  aggregate,
  answer,
  answerAll,
  byDay,
  changeOf,
  checkOwnMetric,
  coverageOf,
  type Dataset,
  hasDrivers,
  isKnown,
  keyOf,
  lacksOf,
  metricBook,
  NO_SETTINGS,
  planReads,
  projectLevel,
  type Question,
  STANDARD,
  topOf,
  typical,
  uncountedOf,
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
  it('leaves a gap where a day was not delivered or has cannot be calculated', () => {
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

describe('at its edges', () => {
  const first = '2026-10-01';
  const small = (measures: Record<string, number[]>, reported: Dataset['reported'] = []): Dataset => {
    const days = Object.values(measures)[0]!.length;
    return {
      id: 'e',
      name: 'Edges',
      firstDay: first,
      dimensions: ['channel'],
      measures: [...Object.keys(measures), 'visitors'],
      covered: coverageOf(Array.from({ length: days }, (_, i) => toDayNumber(first) + i)),
      columns: {
        days: Int32Array.from({ length: days }, (_, i) => toDayNumber(first) + i),
        dims: { channel: { labels: ['Email'], codes: new Int32Array(days) } },
        measures: Object.fromEntries(Object.entries(measures).map(([m, v]) => [m, Float64Array.from(v)])),
      },
      reported,
    };
  };
  const range = (from: string, to: string) => ({ from, to });
  const sum = { kind: 'sum', measure: 'visits' } as const;

  it('a usual level may begin on the very first day, and knows no dimension that its dataset lacks', () => {
    const d = small({ visits: [4, 6, 8] });
    expect(typical(d, sum, [range(first, first)], {})).toEqual({ value: 4, count: 1, of: 1 });
    expect(typical(d, sum, [range('2026-09-30', '2026-09-30')], {})).toEqual({ na: 'before-start' });
    expect(typical(d, sum, [range(first, first)], { device: ['Mobile'] })).toEqual({ na: 'filtered-out-of-feed' });
  });

  it('a level has no growth over the very first day, and has it from the second on', () => {
    const d = small({ followers: [100, 104, 109] });
    const net = { kind: 'level', measure: 'followers', net: true } as const;
    expect(aggregate(d, net, range(first, '2026-10-02'), {})).toEqual({ na: 'before-start' });
    expect(aggregate(d, net, range('2026-10-02', '2026-10-03'), {})).toEqual({ value: 9 });
  });

  it('a unique that was reported for the range once, but not for the filter, says so', () => {
    const all = {
      measure: 'visitors',
      ...range(first, '2026-10-03'),
      filter: {},
      value: 7,
    };
    const unique = { kind: 'unique', measure: 'visitors' } as const;
    const ask = (filter: Record<string, string[]>, to = '2026-10-03') =>
      aggregate(small({ visits: [1, 2, 3] }, [all]), unique, range(first, to), filter);
    expect(ask({})).toEqual({ value: 7 });
    expect(ask({ channel: ['Email'] })).toEqual({ na: 'filtered-out-of-feed' });
    expect(ask({}, '2026-10-02')).toEqual({ na: 'not-additive' });
  });

  it('half a per cent, and five hundredths of a point, are no longer steady', () => {
    const verdict = (now: number, before: number, unit: 'count' | 'percent') =>
      changeOf({ value: now }, { value: before }, unit, 'higher').verdict;
    expect(verdict(1_005, 1_000, 'count')).toBe('better');
    expect(verdict(1_004.9, 1_000, 'count')).toBe('steady');
    expect(verdict(0.0005, 0, 'percent')).toBe('better');
    expect(verdict(0.00049, 0, 'percent')).toBe('steady');
  });

  it('coverage joins days that touch, and no others', () => {
    expect(coverageOf([7, 3, 1, 2, 8, 5, 3])).toEqual([
      [1, 3],
      [5, 5],
      [7, 8],
    ]);
    expect(coverageOf([])).toEqual([]);
  });

  it('a level of several dimensions keeps every combination as a series of its own', () => {
    const base = small({ followers: [1, 2, 4, 8] });
    const days = new Int32Array(4).fill(toDayNumber(first));
    const dims = {
      channel: { labels: ['a', 'b'], codes: Int32Array.from([0, 0, 1, 1]) },
      profile: { labels: ['x', 'y'], codes: Int32Array.from([0, 1, 0, 1]) },
    };
    const d: Dataset = { ...base, columns: { ...base.columns, days, dims } };
    const level = { kind: 'level', measure: 'followers' } as const;
    expect(aggregate(d, level, range(first, first), {})).toEqual({ value: 15 });
    // The next day one of them alone is seen again: it takes its own place, not another’s.
    const later: Dataset = {
      ...d,
      columns: {
        ...d.columns,
        days: Int32Array.from([...days.subarray(0, 3), toDayNumber(first) + 1]),
        dims: { ...dims, channel: { ...dims.channel, codes: Int32Array.from([0, 0, 1, 0]) } },
      },
    };
    expect(aggregate(later, level, range(first, '2026-10-02'), {})).toEqual({ value: 1 + 4 + 8 });
  });

  it('drivers tell the sums of both sides, and a formula with a number in it has none', () => {
    const found = answer(
      {
        op: 'drivers',
        metric: 'visits',
        dimension: 'channel',
        range: range('2026-10-03', '2026-10-03'),
        compared: range(first, first),
        filter: {},
      },
      [small({ visits: [4, 6, 9] })],
    );
    expect(found.op === 'drivers' && found.drivers).toMatchObject({ current: 9, compared: 4, change: 5 });
    expect(hasDrivers({ kind: 'derived', formula: 'visits + 2' }, STANDARD.lookup)).toBe(false);
    expect(hasDrivers({ kind: 'derived', formula: '2 * visits' }, STANDARD.lookup)).toBe(true);
    expect(hasDrivers({ kind: 'derived', formula: 'visits + orders' }, STANDARD.lookup)).toBe(true);
    // Rates over the same visits can be added and divided among parts; rates over unlike things cannot.
    expect(hasDrivers({ kind: 'derived', formula: 'bounceRate + orderRate' }, STANDARD.lookup)).toBe(true);
    expect(hasDrivers({ kind: 'derived', formula: 'orderRate + averageOrder' }, STANDARD.lookup)).toBe(false);
  });

  it('drivers under a filter are those of the rows that it keeps', () => {
    const base = small({ visits: [4, 6, 9, 20] });
    const days = Int32Array.from([0, 0, 1, 1], (i) => toDayNumber(first) + i);
    const dims = {
      channel: { labels: ['Email', 'Direct'], codes: Int32Array.from([0, 1, 0, 1]) },
      device: { labels: ['Mobile', 'Desktop'], codes: Int32Array.from([0, 1, 0, 1]) },
    };
    const d: Dataset = { ...base, dimensions: ['channel', 'device'], columns: { ...base.columns, days, dims } };
    const ask = (filter: Record<string, string[]>) => {
      const q = { range: range('2026-10-02', '2026-10-02'), compared: range(first, first), filter };
      const found = answer({ op: 'drivers', metric: 'visits', dimension: 'channel', ...q }, [d]);
      return found.op === 'drivers' && !('na' in found.drivers) ? found.drivers.items : null;
    };
    expect(ask({ device: ['Mobile'] })).toEqual([{ label: 'Email', by: 5 }]);
    expect(ask({})).toEqual([
      { label: 'Direct', by: 14 },
      { label: 'Email', by: 5 },
    ]);
  });

  it('the rest of a formula that is no sum, and reads no people, is worked out for all of it together', () => {
    const base = small({ visits: [4, 6, 9], orders: [5, 1, 2] });
    const days = new Int32Array(3).fill(toDayNumber(first));
    const dims = { channel: { labels: ['a', 'b', 'c'], codes: Int32Array.from([0, 1, 2]) } };
    const d: Dataset = { ...base, columns: { ...base.columns, days, dims } };
    const a = { kind: 'derived', formula: 'max(visits, orders)' } as const;
    const one = { dimension: 'channel', n: 1, range: range(first, first), compared: null, filter: {} };
    const found = topOf(d, [{ kind: 'sum', measure: 'visits' }, a], one);
    if ('na' in found) throw new Error('it has rows');
    expect(found.rows[0]!.label).toBe('c');
    expect(found.other!.map((p) => p.current)).toEqual([{ value: 10 }, { value: 10 }]);
    // In a table of two the rest stands whichever of them leads.
    const turned = topOf(d, [a, { kind: 'sum', measure: 'visits' }], one);
    expect('na' in turned ? null : turned.other?.length).toBe(2);
    expect('na' in turned ? null : topOf(d, [a], one)).toMatchObject({ other: null });
  });

  it('by change, what lacks a rate on one side comes last, and by label', () => {
    const base = small({ visits: [10, 0, 0, 10, 10, 10], orders: [1, 0, 0, 9, 3, 4] });
    const d: Dataset = {
      ...base,
      columns: {
        ...base.columns,
        days: Int32Array.from([0, 0, 0, 1, 1, 1], (i) => toDayNumber(first) + i),
        dims: { channel: { labels: ['a', 'b', 'c'], codes: Int32Array.from([2, 1, 0, 2, 1, 0]) } },
      },
    };
    const rate = { kind: 'ratio', num: 'orders', den: 'visits' } as const;
    const ask = { dimension: 'channel', n: 3, range: range('2026-10-02', '2026-10-02'), compared: range(first, first) };
    const found = topOf(d, [rate], { ...ask, filter: {}, order: 'change' });
    expect('na' in found ? null : found.rows.map((r) => r.label)).toEqual(['c', 'a', 'b']);
  });

  it('a formula of a sum, or of one sum over another, is divided among parts by its own numbers', () => {
    const book = (formula: string) =>
      metricBook({
        ...NO_SETTINGS,
        own: [{ key: 'own', label: 'Own', unit: 'decimal', polarity: 'higher', formula, definition: '' }],
      });
    const d = small({ visits: [4, 6, 9], orders: [2, 3, 6] });
    const drivers = (formula: string) => {
      const q = { range: range('2026-10-03', '2026-10-03'), compared: range(first, first), filter: {} };
      const found = answer({ op: 'drivers', metric: 'own', dimension: 'channel', ...q }, [d], {
        book: book(formula),
        targets: [],
      });
      return found.op === 'drivers' && !('na' in found.drivers) ? found.drivers.items.map((i) => i.by) : null;
    };
    expect(drivers('visits / 2')).toEqual([2.5]);
    expect(drivers('orders / visits')![0]).toBeCloseTo(6 / 9 - 2 / 4, 12);
    expect(drivers('visits / 0')).toBeNull();
  });

  it('what ends on one day is read from each of its beginnings', () => {
    const d = small({ visits: [4, 6, 9] });
    const total = (from: string): Question => ({
      op: 'total',
      metric: 'visits',
      range: range(from, '2026-10-03'),
      filter: {},
    });
    expect(planReads([total(first), total('2026-10-02'), total(first)], [d])[0]!.ranges).toHaveLength(2);
  });

  it('a level is read by every dimension that there is, and from the first day on', () => {
    const d = { ...small({ followers: [1, 2] }), dimensions: ['channel', 'profile'] };
    const total: Question = { op: 'total', metric: 'followers', range: range('2026-10-02', '2026-10-02'), filter: {} };
    expect(planReads([total], [d])).toMatchObject([
      { dimensions: ['channel', 'profile'], ranges: [range(first, '2026-10-02')] },
    ]);
  });

  it('a usual level by step may be made from one range alone', () => {
    const q: Question = {
      op: 'typicalSteps',
      metric: 'visits',
      period: range('2026-10-03', '2026-10-04'),
      ranges: [range(first, '2026-10-02')],
      step: 'day',
      weekStart: 1,
      filter: {},
    };
    expect(answer(q, [small({ visits: [4, 6, 9, 20] })])).toEqual({
      op: 'typicalSteps',
      values: [{ value: 4 }, { value: 6 }],
    });
  });

  it('what only a service can count is waited for from the first day on, and not before', () => {
    const asked = (r: { from: string; to: string }) =>
      uncountedOf([{ op: 'total', metric: 'visitors', range: r, filter: {} }], [small({ visits: [1, 2] })], {
        book: STANDARD,
        targets: [],
      });
    expect(asked(range(first, '2026-10-02'))).toMatchObject([{ ranges: [range(first, '2026-10-02')] }]);
    expect(asked(range('2026-09-01', '2026-09-30'))).toEqual([]);
    expect(asked(range('2026-09-01', first))).toHaveLength(1);
    const usual: Question = {
      op: 'typical',
      metric: 'visitors',
      ranges: [range(first, '2026-10-02')],
      filter: {},
    };
    expect(uncountedOf([usual], [small({ visits: [1, 2] })], { book: STANDARD, targets: [] })).toEqual([]);
  });

  it('the growth of a level needs one day more than it is taken over', () => {
    const week = [1, 2, 3, 4, 5, 6, 7];
    expect(() => projectLevel(week, 7, 1)).toThrow('8 days are needed');
    expect(projectLevel([0, ...week], 7, 7)).toBe(14);
  });

  it('times over times is a bare number, that goes with any other; a formula that ends too early says so', () => {
    const fault = (formula: string) => checkOwnMetric({ key: 'own', formula }, STANDARD);
    expect(fault('engagedTime / callTime + orders / visits')).toBeNull();
    expect(fault('engagedTime * callTime + visits')).not.toBeNull();
    expect(fault('2 * 3 + revenue')).toBeNull();
    expect(fault('visits +')?.message).toBe('The formula is incomplete.');
    expect(fault('visits )')?.message).toContain('Unexpected “)”.');
  });
});
