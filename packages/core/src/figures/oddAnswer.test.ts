import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, daysOf, type Range, toDayNumber, weekdayOf } from '../calendar/index.ts';
import {
  answer,
  changeOf,
  coverageOf,
  type Dataset,
  isTurned,
  type Knowledge,
  metricBook,
  NO_SETTINGS,
  type Odd,
  type Question,
  STANDARD,
  valueOfAnswer,
} from './index.ts';

const all: Range = { from: '2025-01-01', to: '2026-11-01' };
const october: Range = { from: '2026-10-01', to: '2026-10-31' };
const september: Range = { from: '2026-09-01', to: '2026-09-30' };
const CHANNELS = ['Email', 'Direct'];

type Spoil = (day: string, channel: string) => number;

/** Two channels with a week's rhythm; October lies a little below September. */
function datasetOf(spoil: Spoil, gone: readonly string[] = [], id = 'web', own = ['visits', 'orders']): Dataset {
  const days = daysOf(all).filter((d) => !gone.includes(d));
  const rows = days.flatMap((day, i) => CHANNELS.map((channel) => ({ day, channel, i })));
  const of = (base: number) =>
    Float64Array.from(rows, ({ day, channel, i }) => {
      const wave = 1 + 0.06 * Math.sin(i * 12.9898);
      const month = day >= october.from ? 0.96 : 1;
      return Math.round(base * (weekdayOf(day) > 5 ? 0.6 : 1) * wave * month * spoil(day, channel));
    });
  return {
    id,
    name: id,
    firstDay: all.from,
    dimensions: ['channel'],
    measures: own,
    covered: coverageOf(days.map(toDayNumber)),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r.day)),
      dims: { channel: { labels: CHANNELS, codes: Int32Array.from(rows, (r) => CHANNELS.indexOf(r.channel)) } },
      measures: Object.fromEntries(own.map((m) => [m, of(m === 'orders' ? 60 : 900)])),
    },
  };
}

const onDays =
  (days: Record<string, number>): Spoil =>
  (day) =>
    days[day] ?? 1;

function oddOf(
  datasets: Dataset | Dataset[],
  metric: string,
  more: Partial<Extract<Question, { op: 'oddDays' }>> = {},
  knowledge?: Knowledge,
): Odd {
  const q: Question = { op: 'oddDays', metric, range: october, compared: september, filter: {}, ...more };
  const found = answer(q, [datasets].flat(), knowledge);
  if (found.op !== 'oddDays') throw new Error('no answer');
  return found.odd;
}
const shown = (odd: Odd) => odd.days.map((o) => `${o.side} ${o.day} ${o.measure}`);
const totalOf = (d: Dataset, metric: string, range: Range) =>
  valueOfAnswer(answer({ op: 'total', metric, range, filter: {} }, [d]))!;

describe('the odd days of a figure', () => {
  it('turn a verdict round, and are left out with their partners on both sides', () => {
    // Two days of nothing in September make October read better; without them and their partners it is worse.
    const d = datasetOf(onDays({ '2026-09-10': 0, '2026-09-11': 0 }));
    const range = { from: '2026-10-01', to: '2026-10-30' };
    const odd = oddOf(d, 'visits', { range });
    expect(shown(odd)).toEqual(['compared 2026-09-10 visits', 'compared 2026-09-11 visits']);
    expect(odd.days[0]).toMatchObject({ kind: 'zero', value: 0 });
    expect(odd.without!.days).toEqual(['2026-09-10', '2026-09-11', '2026-10-10', '2026-10-11']);
    const { unit, polarity } = STANDARD.of('visits');
    const change = changeOf(totalOf(d, 'visits', range), totalOf(d, 'visits', september), unit, polarity);
    const without = changeOf(odd.without!.current, odd.without!.compared, unit, polarity);
    expect([change.verdict, without.verdict]).toEqual(['better', 'worse']);
    expect(isTurned(change, without)).toBe(true);
    expect(isTurned(without, without)).toBe(false);
  });

  it('are those of the sums that a rate or a formula is made of, its rate without them beside', () => {
    const d = datasetOf(onDays({ '2026-10-14': 0.1 }));
    expect(shown(oddOf(d, 'orderRate')).sort()).toEqual(['current 2026-10-14 orders', 'current 2026-10-14 visits']);
    const without = oddOf(d, 'orderRate').without!;
    const sumOf = (measure: string, range: Range, day: string) =>
      daysOf(range)
        .filter((x) => x !== day)
        .reduce((n, x) => n + (totalOf(d, measure, { from: x, to: x }) as { value: number }).value, 0);
    expect(without.current).toEqual({
      value: sumOf('orders', october, '2026-10-14') / sumOf('visits', october, '2026-10-14'),
    });
    expect(without.compared).toEqual({
      value: sumOf('orders', september, '2026-09-14') / sumOf('visits', september, '2026-09-14'),
    });
  });

  it('of a formula over two feeds are those of both', () => {
    const own = {
      key: 'own',
      label: 'Own',
      unit: 'decimal',
      polarity: 'higher',
      formula: 'orders / visits',
      definition: '',
    } as const;
    const knowledge: Knowledge = { book: metricBook({ ...NO_SETTINGS, own: [own] }), targets: [] };
    const visits = datasetOf(onDays({ '2026-10-05': 0 }), [], 'web', ['visits']);
    const orders = datasetOf(onDays({ '2026-10-20': 4 }), [], 'shop', ['orders']);
    const odd = oddOf([visits, orders], 'own', {}, knowledge);
    expect(shown(odd)).toEqual(['current 2026-10-05 visits', 'current 2026-10-20 orders']);
    expect(odd.without!.days).toEqual(['2026-09-05', '2026-09-20', '2026-10-05', '2026-10-20']);
  });

  it('have the mark alone where a day has no partner, nothing is compared, or some days have no data', () => {
    const last = datasetOf(onDays({ '2026-10-31': 0 }));
    expect(oddOf(last, 'visits')).toMatchObject({ days: [{ day: '2026-10-31' }], without: null });
    const d = datasetOf(onDays({ '2026-10-14': 0 }));
    expect(oddOf(d, 'visits', { compared: null })).toMatchObject({ days: [{ day: '2026-10-14' }], without: null });
    const holed = datasetOf(onDays({ '2026-10-14': 0 }), ['2026-10-02']);
    expect(oddOf(holed, 'visits')).toMatchObject({ days: [{ day: '2026-10-14' }], without: null });
  });

  it('are not looked for of levels and uniques, of whole weeks, or on holidays', () => {
    const d = datasetOf(onDays({ '2026-10-14': 0 }), [], 'web', ['visits', 'followers', 'visitors']);
    expect(shown(oddOf(d, 'followers'))).toEqual([]);
    expect(shown(oddOf(d, 'visitors'))).toEqual([]);
    expect(shown(oddOf({ ...d, grain: 'week' }, 'visits'))).toEqual([]);
    const holidays = ['2026-10-14'];
    expect(shown(oddOf(d, 'visits', {}, { book: STANDARD, targets: [], holidays }))).toEqual([]);
    expect(shown(oddOf(d, 'visits'))).toHaveLength(1);
  });

  it('of money in whole units are judged as money is, not as so many events', () => {
    // Four orders a day of one price or the other: as counts, a day of 20,000 would be hundreds of deviations away.
    const d = datasetOf(() => 1, [], 'web', ['visits', 'revenue']);
    let a = 7;
    const chance = () => {
      a = (Math.imul(a, 1_103_515_245) + 12_345) >>> 0;
      return a / 4_294_967_296;
    };
    const revenue = d.columns.measures.revenue!.map(() => {
      let sum = 0;
      for (let k = 0; k < 4; k++) if (chance() < 0.5) sum += chance() < 0.5 ? 1_000 : 9_000;
      return sum;
    });
    const yen = { ...d, columns: { ...d.columns, measures: { ...d.columns.measures, revenue } } };
    expect(shown(oddOf(yen, 'revenue'))).toEqual([]);
  });

  it('are judged within the filter that the figure has', () => {
    const d = datasetOf((day, channel) => (day === '2026-10-14' && channel === 'Email' ? 0 : 1));
    expect(shown(oddOf(d, 'visits', { filter: { channel: ['Direct'] } }))).toEqual([]);
    expect(shown(oddOf(d, 'visits', { filter: { channel: ['Email'] } }))).toEqual(['current 2026-10-14 visits']);
  });

  it('are never made of days that were not read or not delivered', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(669), { maxLength: 40 }), (gone) => {
        const d = datasetOf(
          () => 1,
          gone.map((i) => addDays(all.from, i)),
        );
        expect(shown(oddOf(d, 'visits'))).toEqual([]);
      }),
      { numRuns: 30 },
    );
  });
});
