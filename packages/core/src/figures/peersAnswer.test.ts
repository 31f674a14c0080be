import { describe, expect, it } from 'vitest';
import { addDays, toDayNumber } from '../calendar/index.ts';
import { answer } from './answer.ts';
import { metricBook } from './book.ts';
import { coverageOf } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { lacksOf } from './lacks.ts';

const first = '2026-10-01';
const dayOf = (i: number) => addDays(first, i);
const days = (from: number, to: number, but: number[] = []) =>
  coverageOf(
    Array.from({ length: to - from + 1 }, (_, i) => from + i)
      .filter((i) => !but.includes(i))
      .map((i) => toDayNumber(dayOf(i))),
  );

/** One row a day and label: followers 1,000 and 10 more a day, and one post a day. */
function datasetOf(
  id: string,
  dimension: string,
  labels: string[],
  measures: string[],
  [from, to]: [number, number],
  but: number[] = [],
): Dataset {
  const rows = labels
    .flatMap((_label, l) =>
      Array.from({ length: to - from + 1 }, (_, i) => ({
        day: from + i,
        label: l,
        level: 1_000 * (l + 1) + 10 * (from + i),
      })),
    )
    .filter((r) => !but.includes(r.day));
  rows.sort((a, b) => a.day - b.day);
  return {
    id,
    name: id,
    firstDay: dayOf(from),
    dimensions: [dimension],
    measures,
    covered: days(from, to, but),
    columns: {
      days: Int32Array.from(rows, (r) => toDayNumber(dayOf(r.day))),
      dims: { [dimension]: { labels, codes: Int32Array.from(rows, (r) => r.label) } },
      measures: {
        [measures[0]!]: Float64Array.from(rows, (r) => r.level),
        [measures[1]!]: Float64Array.from(rows, () => 1),
      },
    },
  };
}

const own = datasetOf('own', 'profile', ['Photographs'], ['followers', 'posts'], [0, 30]);
const theirs = datasetOf(
  'theirs',
  'competitor',
  ['Harrow Mill', 'Penwick'],
  ['competitorFollowers', 'competitorPosts'],
  [10, 30],
);
const knowledge = { book: metricBook(), targets: [] };
const ask = (metric: string, other: string) =>
  ({
    op: 'peers',
    metric,
    theirs: other,
    dimension: 'competitor',
    range: { from: first, to: dayOf(30) },
    filter: {},
  }) as const;
const peersOf = (metric: string, other: string, datasets = [own, theirs]) => {
  const found = answer(ask(metric, other), datasets, knowledge);
  if (found.op !== 'peers' || 'na' in found.peers) throw new Error(JSON.stringify(found));
  return found.peers;
};

describe('ourselves beside others', () => {
  it('are held over the days that are known of all, ourselves first, then the largest', () => {
    const { days: over, rows } = peersOf('followers', 'competitorFollowers');
    expect(over).toEqual({ from: dayOf(10), to: dayOf(30), count: 21 });
    expect(rows.map((r) => [r.label, r.value, r.grown])).toEqual([
      [null, { value: 1_300 }, { value: 200 }],
      ['Penwick', { value: 2_300 }, { value: 200 }],
      ['Harrow Mill', { value: 1_300 }, { value: 200 }],
    ]);
  });

  it('count nothing of a day that is not known of one side', () => {
    const gappy = datasetOf(
      'theirs',
      'competitor',
      ['Penwick'],
      ['competitorFollowers', 'competitorPosts'],
      [10, 30],
      [15, 16],
    );
    const { days: over, rows } = peersOf('posts', 'competitorPosts', [own, gappy]);
    expect(over.count).toBe(19);
    expect(rows.map((r) => r.value)).toEqual([{ value: 19 }, { value: 19 }]);
  });

  it('say so where no day is known of both, and keep no edition waiting for what a service forgets', () => {
    const late = datasetOf('theirs', 'competitor', ['Penwick'], ['competitorFollowers', 'competitorPosts'], [31, 40]);
    expect(answer(ask('posts', 'competitorPosts'), [own, late], knowledge)).toEqual({
      op: 'peers',
      peers: { na: 'not-covered' },
    });
    expect(lacksOf([ask('posts', 'competitorPosts')], [own, theirs], knowledge)).toEqual([]);
    expect(lacksOf([ask('posts', 'competitorPosts')], [own], knowledge)).toMatchObject([{ kind: 'no-dataset' }]);
  });
});
