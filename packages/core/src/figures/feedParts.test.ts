import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, daysOf, lengthOf, type Range, toDayNumber } from '../calendar/index.ts';
import {
  answer,
  changeOf,
  coverageOf,
  type Dataset,
  type FeedPart,
  isKnown,
  isTold,
  lacksOf,
  type Question,
  STANDARD,
  type Value,
  valueOfAnswer,
  wholeCoverage,
} from './index.ts';

const all: Range = { from: '2026-01-01', to: '2026-10-31' };
const LABELS = ['Shop A', 'Shop B'];
const month = (m: string): Range => ({ from: `2026-${m}-01`, to: addDays(`2026-${m}-01`, 27) });

const covered = (from: string, to: string, gone: readonly string[] = []) =>
  coverageOf(
    daysOf({ from, to })
      .filter((d) => !gone.includes(d))
      .map(toDayNumber),
  );

type Past = Partial<Pick<FeedPart, 'from' | 'to' | 'lastDay'>>;

/** Shop A has 10 visits a day throughout, Shop B 5 from the first of March (to its last day). */
function shops(past: Past, more: { a?: Past; gone?: readonly string[] } = {}): Dataset {
  const ofB = { from: '2026-03-01', to: past.lastDay ?? all.to };
  const parts: FeedPart[] = [
    {
      feed: 'Shop A',
      firstDay: all.from,
      lastDay: null,
      from: null,
      to: null,
      covered: covered(all.from, more.a?.to ?? all.to),
      ...more.a,
    },
    {
      feed: 'Shop B',
      firstDay: ofB.from,
      lastDay: null,
      from: null,
      to: null,
      covered: covered(ofB.from, ofB.to, more.gone),
      ...past,
    },
  ];
  const rows = [
    ...daysOf({ from: all.from, to: more.a?.to ?? all.to }).map((day) => ({ day, feed: 0, visits: 10 })),
    ...daysOf(ofB)
      .filter((d) => !more.gone?.includes(d))
      .map((day) => ({ day, feed: 1, visits: 5 })),
  ].sort((x, y) => (x.day < y.day ? -1 : 1));
  return {
    id: 'a+b',
    name: 'Visits',
    firstDay: all.from,
    dimensions: ['feed'],
    measures: ['visits'],
    covered: wholeCoverage(parts),
    parts,
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(r.day)),
      dims: { feed: { labels: LABELS, codes: Int32Array.from(rows, (r) => r.feed) } },
      measures: { visits: Float64Array.from(rows, (r) => r.visits) },
    },
  };
}

const RAN: Past = { from: null };
const BEGAN: Past = { from: '2026-03-01' };
const total = (d: Dataset, range: Range, filter = {}): Value =>
  valueOfAnswer(answer({ op: 'total', metric: 'visits', range, filter }, [d]))!;
const change = (d: Dataset, now: Range, before: Range) => {
  const { unit, polarity } = STANDARD.of('visits');
  return changeOf(total(d, now), total(d, before), unit, polarity);
};
const byFeed = (d: Dataset, range: Range, compared: Range) => {
  const found = answer({ op: 'top', metrics: ['visits'], dimension: 'feed', n: 5, range, compared, filter: {} }, [d]);
  return found.op === 'top' && !('na' in found.breakdown) ? found.breakdown : null;
};

describe('a second account of a kind', () => {
  it('that ran before without us makes sums of earlier days partial, and tells no change from them', () => {
    const d = shops(RAN);
    const february = total(d, month('02'));
    expect(february).toEqual({
      value: 280,
      partial: true,
      share: 0.5,
      feeds: [{ feed: 'Shop B', since: '2026-03-01' }],
    });
    expect(total(d, month('03'))).toEqual({ value: 420 });
    expect(isTold(change(d, month('03'), month('02')))).toBe(false);
    // Of the month that holds its first day the share is counted in days of feeds.
    const over = total(d, { from: '2026-02-15', to: '2026-03-14' });
    expect(over).toMatchObject({ value: 14 * 10 + 14 * 15, partial: true, share: 42 / 56 });
    expect(over).toMatchObject({ feeds: [{ feed: 'Shop B', since: '2026-03-01' }] });
    expect(total(d, { from: '2025-02-01', to: '2025-02-28' })).toEqual({ na: 'before-start' });
  });

  it('that began then leaves them whole', () => {
    const d = shops(BEGAN);
    expect(total(d, month('02'))).toEqual({ value: 280 });
    expect(change(d, month('03'), month('02'))).toMatchObject({ rel: 0.5, verdict: 'better' });
  });

  it('that continues another one is one series with it', () => {
    const d = shops({ from: '2026-03-01' }, { a: { to: '2026-02-28', lastDay: '2026-02-28' } });
    expect(total(d, month('02'))).toEqual({ value: 280 });
    expect(total(d, month('03'))).toEqual({ value: 140 });
    expect(total(d, { from: '2026-02-15', to: '2026-03-14' })).toEqual({ value: 14 * 10 + 14 * 5 });
  });

  it('that another one continues owes its very last day, and no day after it', () => {
    const parts = (gone: string[], to = '2026-02-28'): FeedPart[] => [
      { feed: 'A', firstDay: all.from, lastDay: to, from: null, to, covered: covered(all.from, to, gone) },
      {
        feed: 'B',
        firstDay: '2026-03-01',
        lastDay: null,
        from: '2026-03-01',
        to: null,
        covered: covered('2026-03-01', all.to),
      },
    ];
    const has = (of: FeedPart[], day: string) =>
      wholeCoverage(of).some(([a, b]) => a <= toDayNumber(day) && toDayNumber(day) <= b);
    expect(has(parts([]), '2026-02-28')).toBe(true);
    expect(has(parts(['2026-02-28']), '2026-02-28')).toBe(false);
    expect(has(parts(['2026-01-20']), '2026-01-20')).toBe(false);
    expect(has(parts(['2026-01-20']), '2026-01-21')).toBe(true);
    expect(has(parts([]), '2026-03-02')).toBe(true);
    expect(wholeCoverage([])).toEqual([]);
  });

  it('that ended, or is no longer read, counts likewise', () => {
    const gone = { from: null, lastDay: '2026-06-30' };
    expect(total(shops({ ...gone, to: null }), month('07'))).toEqual({
      value: 280,
      partial: true,
      share: 0.5,
      feeds: [{ feed: 'Shop B', until: '2026-06-30' }],
    });
    expect(total(shops({ ...gone, to: '2026-06-30' }), month('07'))).toEqual({ value: 280 });
    expect(total(shops({ ...gone, to: '2026-06-30' }), month('06'))).toEqual({ value: 420 });
    // Up to its last day it is only holed, not without it.
    const holed = shops({ ...gone, to: null }, { gone: ['2026-06-10'] });
    expect(total(holed, { from: '2026-06-01', to: '2026-06-30' })).toEqual({
      value: 445,
      partial: true,
      share: 59 / 60,
    });
  });

  it('reads by feed as it is known there: not yet measured, and the other one whole', () => {
    const found = byFeed(shops(RAN), month('03'), month('02'))!;
    expect(found.rows.map((r) => [r.label, r.cells[0]])).toEqual([
      ['Shop A', { current: { value: 280 }, compared: { value: 280 } }],
      ['Shop B', { current: { value: 140 }, compared: { na: 'before-start' } }],
    ]);
    expect(found.total[0]!.compared).toMatchObject({ partial: true });
    expect(total(shops(RAN), month('02'), { feed: ['Shop A'] })).toEqual({ value: 280 });
    expect(total(shops(RAN), month('02'), { feed: ['Shop B'] })).toEqual({ na: 'before-start' });
    expect(total(shops(RAN), month('02'), { feed: LABELS })).toMatchObject({ partial: true });
  });

  it('is not waited for in days before it began, and is in those that it owes', () => {
    const asked: Question[] = [{ op: 'total', metric: 'visits', range: month('02'), filter: {} }];
    expect(lacksOf(asked, [shops(RAN)])).toEqual([]);
    const late: Question[] = [{ op: 'total', metric: 'visits', range: month('04'), filter: {} }];
    expect(lacksOf(late, [shops(RAN, { gone: ['2026-04-03'] })])).toMatchObject([
      { kind: 'days', missing: [{ from: '2026-04-03', to: '2026-04-03' }] },
    ]);
    expect(lacksOf(late, [shops({ ...RAN, lastDay: '2026-03-15' })])).toEqual([]);
  });

  it('shows single days with what some of the feeds brought, marked', () => {
    const found = answer(
      { op: 'byDay', metric: 'visits', range: { from: '2026-02-28', to: '2026-03-01' }, filter: {} },
      [shops(RAN)],
    );
    expect(found).toMatchObject({
      op: 'byDay',
      values: [null, 15],
      partly: { 0: { value: 10, partial: true, share: 0.5 } },
    });
  });

  it('is whole exactly where every day of every feed that counts was delivered (any past, any holes)', () => {
    const day = fc.nat(lengthOf(all) - 1).map((i) => addDays(all.from, i));
    fc.assert(
      fc.property(
        fc.constantFrom(
          RAN,
          BEGAN,
          { from: null, lastDay: '2026-06-30', to: null },
          { from: null, lastDay: '2026-06-30', to: '2026-06-30' },
        ),
        fc.uniqueArray(day, { maxLength: 20 }),
        day,
        day,
        (past, gone, x, y) => {
          const d = shops(past, { gone });
          const range = x < y ? { from: x, to: y } : { from: y, to: x };
          const ofB = (on: string) => on >= '2026-03-01' && on <= (past.lastDay ?? all.to) && !gone.includes(on);
          const owes = (on: string) => (past.from === null ? past.to == null || on <= past.to : on >= past.from!);
          const lacks = daysOf(range).filter((on) => owes(on) && !ofB(on)).length;
          const asked = lengthOf(range) + daysOf(range).filter(owes).length;
          const value = total(d, range);
          if (!isKnown(value)) throw new Error('Shop A is always known');
          expect(value.partial === true).toBe(lacks > 0);
          if (lacks > 0) expect(value.share).toBeCloseTo((asked - lacks) / asked, 12);
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('a level over several feeds', () => {
  it('counts the one that is continued up to that day, and no longer', () => {
    const base = shops({ from: '2026-03-01' }, { a: { to: '2026-02-28', lastDay: '2026-02-28' } });
    const d: Dataset = {
      ...base,
      measures: ['followers'],
      columns: { ...base.columns, measures: { followers: base.columns.measures.visits! } },
    };
    const at = (to: string) =>
      valueOfAnswer(answer({ op: 'total', metric: 'followers', range: { from: to, to }, filter: {} }, [d]));
    expect(at('2026-02-28')).toEqual({ value: 10 });
    expect(at('2026-03-02')).toEqual({ value: 5 });
    expect(at('2026-06-02')).toEqual({ value: 5 });
  });
});
