import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, type CivilDate, daysOf, type Range, toDayNumber } from '../calendar/index.ts';
import {
  answer,
  type CountedRange,
  countedDays,
  coverageOf,
  type Dataset,
  type Exclusion,
  excludeDays,
  excludedDaysOf,
  excludeFromUsual,
  keyOf,
  lacksOf,
  metricBook,
  NO_SETTINGS,
  partOf,
  type Question,
  uniquesOf,
  valueOfAnswer,
} from './index.ts';

const october: Range = { from: '2026-10-01', to: '2026-10-31' };
const september: Range = { from: '2026-09-01', to: '2026-09-30' };
const span: Range = { from: '2026-06-01', to: '2026-10-31' };
const CHANNELS = ['Email', 'Direct'];
const on = (day: CivilDate, metrics?: string[]): Exclusion => ({ from: day, to: day, ...(metrics && { metrics }) });

/** 30 visits of Email and 70 of Direct a day, one order and two of them; on a `spoilt` day Direct brings nothing. */
function facts(spoilt: readonly CivilDate[] = [], missing: readonly CivilDate[] = []): Dataset {
  const days = daysOf(span).filter((d) => !missing.includes(d));
  const rows = days.flatMap((day) => CHANNELS.map((channel) => ({ day, channel })));
  const column = (email: number, direct: number) =>
    Float64Array.from(rows, ({ day, channel }) => (channel === 'Email' ? email : spoilt.includes(day) ? 0 : direct));
  return {
    id: 'd',
    name: 'Website',
    firstDay: span.from,
    dimensions: ['channel'],
    measures: ['visits', 'orders', 'revenue', 'visitors'],
    covered: coverageOf(days.map(toDayNumber)),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r.day)),
      dims: { channel: { labels: CHANNELS, codes: Int32Array.from(rows, (r) => CHANNELS.indexOf(r.channel)) } },
      measures: { visits: column(30, 70), orders: column(1, 2), revenue: column(40, 60), visitors: column(20, 50) },
    },
  };
}

const perVisit = { key: 'perVisit', label: 'Per visit', unit: 'money', polarity: 'higher', definition: '' } as const;
const book = metricBook({ ...NO_SETTINGS, own: [{ ...perVisit, formula: 'revenue / visits' }] });
const knowledge = {
  book,
  targets: [{ metric: 'visits', value: 3_100, span: 'month', from: '2026-10', repeats: true }] as const,
};
const asked = (q: Question, dataset = facts(), more: { excluded?: Exclusion[] } = {}) =>
  answer(q, [dataset], { ...knowledge, targets: [...knowledge.targets], ...more });
const total = (metric: string, range: CountedRange, dataset = facts()) =>
  valueOfAnswer(asked({ op: 'total', metric, range, filter: {} }, dataset));

describe('a day that is excluded', () => {
  it('goes with its partner, in totals and rates alike', () => {
    const { period, compared } = excludeDays(october, september, [on('2026-10-19')]);
    expect([excludedDaysOf(period), excludedDaysOf(compared)]).toEqual([['2026-10-19'], ['2026-09-19']]);
    expect(total('visits', period)).toEqual({ value: 3_000 });
    expect(total('visits', compared)).toEqual({ value: 2_900 });
    expect(total('orderRate', period, facts(['2026-10-19']))).toEqual(total('orderRate', compared));
  });

  it('of a metric that is named concerns what is made of it, and nothing else', () => {
    const { period } = excludeDays(october, null, [on('2026-10-19', ['revenue'])]);
    expect(total('visits', period)).toEqual({ value: 3_100 });
    expect(total('revenue', period)).toEqual({ value: 3_000 });
    // Its visits go with its revenue: a rate is of the same days above and below.
    expect(total('perVisit', period, facts(['2026-10-19']))).toEqual({ value: 1 });
  });

  it('is left out of rows, their rest and their total, for each metric of a table by itself', () => {
    const { period, compared } = excludeDays(october, september, [on('2026-10-19', ['orders'])]);
    const q: Question = {
      op: 'top',
      metrics: ['visits', 'orders'],
      dimension: 'channel',
      n: 1,
      range: period,
      compared,
      filter: {},
    };
    const found = asked(q);
    if (found.op !== 'top' || 'na' in found.breakdown) throw new Error('no breakdown');
    const { rows, other, total: whole } = found.breakdown;
    expect(rows[0]).toMatchObject({
      label: 'Direct',
      cells: [{ current: { value: 2_170 } }, { current: { value: 60 }, compared: { value: 58 } }],
    });
    expect(other).toMatchObject([{ current: { value: 930 } }, { current: { value: 30 } }]);
    expect(whole).toMatchObject([{ current: { value: 3_100 } }, { current: { value: 90 }, compared: { value: 87 } }]);
  });

  it('explains nothing: the parts of a change are those of the days that are left', () => {
    const { period, compared } = excludeDays(october, september, [on('2026-10-19'), on('2026-10-31')]);
    const found = asked(
      { op: 'drivers', metric: 'visits', dimension: 'channel', range: period, compared, filter: {} },
      facts(['2026-10-19']),
    );
    // 29 days on either side: nothing has changed.
    expect(found.op === 'drivers' && found.drivers).toMatchObject({ current: 2_900, compared: 2_900, change: 0 });
  });

  it('is no lack where it was never delivered, and leaves the figure whole', () => {
    const gone = facts([], ['2026-10-19']);
    const { period } = excludeDays(october, null, [on('2026-10-19')]);
    expect(total('visits', period, gone)).toEqual({ value: 3_000 });
    const q: Question = { op: 'total', metric: 'visits', range: period, filter: {} };
    expect(lacksOf([q], [gone], knowledge)).toEqual([]);
    expect(lacksOf([{ ...q, range: october }], [gone], knowledge)).toMatchObject([{ kind: 'days' }]);
  });

  it('has no value of its own on a line, nor a part of its week', () => {
    const { period } = excludeDays(october, null, [on('2026-10-19')]);
    const days = asked({ op: 'byDay', metric: 'visits', range: period, filter: {} });
    expect(days.op === 'byDay' && Array.isArray(days.values) && days.values.slice(17, 20)).toEqual([100, null, 100]);
  });

  it('asks no service to count the people of the other days', () => {
    const { period } = excludeDays(october, null, [on('2026-10-19')]);
    const q: Question = { op: 'total', metric: 'visitors', range: period, filter: {} };
    expect(uniquesOf([{ ...q, range: october }], [facts()], knowledge, () => [])).toHaveLength(1);
    expect(uniquesOf([q], [facts()], knowledge, () => [])).toEqual([]);
    expect(total('visitors', period)).toEqual({ na: 'not-additive' });
  });

  it('has no part of a target, nor a weight in the pace', () => {
    const { period } = excludeDays(october, null, [on('2026-10-05'), on('2026-10-19')]);
    expect(valueOfAnswer(asked({ op: 'target', metric: 'visits', range: period, filter: {} }))).toEqual({
      value: 2_900,
    });
    // Where it is all that was asked about, nothing was aimed at: that is no target of 0.
    const alone = partOf(period, { from: '2026-10-19', to: '2026-10-19' });
    expect(valueOfAnswer(asked({ op: 'target', metric: 'visits', range: alone, filter: {} }))).toEqual({
      na: 'excluded',
    });
    const pace = asked(
      { op: 'pace', metric: 'visits', range: period, at: '2026-10-11', weekStart: 1, filter: {} },
      facts(['2026-10-05']),
      { excluded: [on('2026-10-05'), on('2026-10-19')] },
    );
    // 9 of the 10 days that passed count, and 29 of the month's.
    expect(pace.op === 'pace' && pace.pace).toMatchObject({ toDate: { value: 900 }, projected: { value: 2_900 } });
  });

  it('weighs no weekday less where it lies in the weeks before the range', () => {
    const mondays = [0, 7, 14, 21].map((i) => addDays('2026-09-07', i));
    const ask = (excluded: Exclusion[]) =>
      asked(
        { op: 'pace', metric: 'visits', range: october, at: '2026-10-11', weekStart: 1, filter: {} },
        facts(mondays),
        { excluded },
      );
    const projected = (excluded: Exclusion[]) => {
      const found = ask(excluded);
      return found.op === 'pace' && 'value' in found.pace.projected ? found.pace.projected.value : 0;
    };
    expect(projected(mondays.map((d) => on(d)))).toBeCloseTo(3_100, 9);
    expect(projected([])).not.toBeCloseTo(3_100, 0);
  });

  it('takes its partners out of what is usual, and a range that lost a day of its own does not count', () => {
    const usual: Range[] = [
      september,
      { from: '2026-08-01', to: '2026-08-31' },
      { from: '2026-07-01', to: '2026-07-31' },
    ];
    const typicalOf = (exclusions: Exclusion[]) => {
      const { period } = excludeDays(october, null, exclusions);
      const ranges = excludeFromUsual(period, usual, exclusions);
      const found = asked({ op: 'typical', metric: 'visits', ranges, filter: {} });
      return found.op === 'typical' && found.value;
    };
    expect(typicalOf([on('2026-10-19')])).toEqual({ value: (2_900 + 3_000 + 3_000) / 3, count: 3, of: 3 });
    expect(typicalOf([on('2026-08-10')])).toEqual({ value: (3_000 + 3_100) / 2, count: 2, of: 3 });
  });

  it('is odd no more, nor makes another day odd', () => {
    const { period, compared } = excludeDays(october, september, [on('2026-10-19')]);
    const q = (range: CountedRange, other: CountedRange): Question => ({
      op: 'oddDays',
      metric: 'visits',
      range,
      compared: other,
      filter: {},
    });
    const spoilt = facts(['2026-10-19']);
    const daysIn = (found: ReturnType<typeof answer>) => found.op === 'oddDays' && found.odd.days.map((d) => d.day);
    expect(daysIn(asked(q(october, september), spoilt))).toEqual(['2026-10-19']);
    expect(daysIn(asked(q(period, compared), spoilt, { excluded: [on('2026-10-19')] }))).toEqual([]);
  });

  it('makes another question of the same dates, so that no answer is mistaken for another', () => {
    const { period } = excludeDays(october, null, [on('2026-10-19')]);
    const named = excludeDays(october, null, [on('2026-10-19', ['orders'])]).period;
    const keys = [october, period, named].map((range) => keyOf({ op: 'total', metric: 'visits', range, filter: {} }));
    expect(new Set(keys).size).toBe(3);
  });

  it('leaves as many days on either side as there were pairs, whatever is excluded', () => {
    const day = fc.integer({ min: 0, max: 60 }).map((i) => addDays('2026-09-01', i));
    fc.assert(
      fc.property(fc.array(day, { maxLength: 12 }), (days) => {
        const { period, compared } = excludeDays(
          { from: '2026-10-01', to: '2026-10-30' },
          september,
          days.map((d) => on(d)),
        );
        expect(countedDays(period)).toBe(countedDays(compared));
        const gone = excludedDaysOf(period);
        expect(excludedDaysOf(compared)).toEqual(gone.map((d) => addDays(d, -30)));
        for (const d of days.filter((x) => x >= '2026-10-01' && x <= '2026-10-30')) expect(gone).toContain(d);
      }),
    );
  });
});
