import { describe, expect, it } from 'vitest';
import { addDays, daysOf, lengthOf, toDayNumber } from '../calendar/index.ts';
import { answer } from './answer.ts';
import { metricBook } from './book.ts';
import { coverageOf } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { lacksOf } from './lacks.ts';

const span = { from: '2026-06-01', to: '2026-10-31' };
const october = { from: '2026-10-01', to: '2026-10-31' };
const all = daysOf(span);

/** 10 visits a day, followers from 1,000 on by 2 a day; `missing` days were not delivered. */
function facts(missing: string[] = []): Dataset {
  const days = all.filter((d) => !missing.includes(d));
  return {
    id: 'd',
    name: 'D',
    firstDay: span.from,
    dimensions: ['profile'],
    measures: ['visits', 'followers', 'orders'],
    covered: coverageOf(days.map(toDayNumber)),
    columns: {
      days: Int32Array.from(days, toDayNumber),
      dims: { profile: { labels: ['Films'], codes: new Int32Array(days.length) } },
      measures: {
        visits: Float64Array.from(days, () => 10),
        orders: Float64Array.from(days, () => 1),
        followers: Float64Array.from(days, (d) => 1_000 + 2 * lengthOf({ from: span.from, to: d })),
      },
    },
  };
}

const ask = (metric: string, at: string, range = october) =>
  ({ op: 'pace', metric, range, at, weekStart: 1, filter: {} }) as const;
const knowledge = { book: metricBook(), targets: [] };
const paceOf = (metric: string, at: string, dataset = facts()) => {
  const found = answer(ask(metric, at), [dataset], knowledge);
  if (found.op !== 'pace') throw new Error('no pace');
  return found.pace;
};

describe('the pace of a figure', () => {
  it('is what came to date, and where it ends at the weight of its days', () => {
    expect(paceOf('visits', '2026-10-11')).toEqual({ toDate: { value: 100 }, projected: { value: 310 }, net: null });
  });

  it('is too early to tell before a fifth of the range’s weight has passed', () => {
    expect(paceOf('visits', '2026-10-07')).toMatchObject({ toDate: { value: 60 }, projected: { na: 'too-early' } });
    expect(paceOf('visits', '2026-10-08').projected).toEqual({ value: 310 });
  });

  it('is the figure itself once the range is over, and nothing before it has begun', () => {
    expect(paceOf('visits', '2026-11-03')).toEqual({ toDate: { value: 310 }, projected: { value: 310 }, net: null });
    expect(paceOf('visits', '2026-10-01')).toEqual({
      toDate: { na: 'no-data' },
      projected: { na: 'no-data' },
      net: null,
    });
  });

  it('of a level is where its growth leads', () => {
    const { toDate, projected, net } = paceOf('followers', '2026-10-11');
    const level = 1_000 + 2 * lengthOf({ from: span.from, to: '2026-10-10' });
    expect(toDate).toEqual({ value: level });
    expect(net).toBeCloseTo(2);
    expect(projected).toEqual({ value: level + 2 * 21 });
  });

  it('of a rate has none: a part of a month is no pace', () => {
    expect(paceOf('orderRate', '2026-10-11').projected).toEqual({ na: 'not-additive' });
  });

  it('is not told where a day of the range is missing, while a gap long before it costs nothing', () => {
    expect(paceOf('visits', '2026-10-11', facts(['2026-10-05'])).projected).toEqual({ na: 'not-covered' });
    expect(paceOf('visits', '2026-10-11', facts(['2026-09-20'])).projected).toEqual({ value: 310 });
  });

  it('waits for the days that have passed, and for no others', () => {
    const until = facts(daysOf({ from: '2026-10-11', to: '2026-10-31' }));
    expect(lacksOf([ask('visits', '2026-10-11')], [until], knowledge)).toEqual([]);
    const lacking = lacksOf([ask('visits', '2026-10-12')], [until], knowledge);
    expect(lacking).toMatchObject([{ kind: 'days', missing: [{ from: '2026-10-11', to: '2026-10-11' }] }]);
    const old = facts([addDays('2026-10-01', -20)]);
    expect(lacksOf([ask('visits', '2026-10-11')], [old], knowledge)).toEqual([]);
  });
});
