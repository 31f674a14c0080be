import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toDayNumber } from '../calendar/index.ts';
import { answer } from './answer.ts';
import { metricBook } from './book.ts';
import { coverageOf } from './coverage.ts';
import type { Dataset } from './dataset.ts';
import { type Item, standing } from './items.ts';
import { planReads } from './sources.ts';

const october = { from: '2026-10-01', to: '2026-10-31' };
const item = (label: string, value: number, day = '2026-10-05'): Item => ({
  label,
  day,
  value: { value },
  link: null,
  picture: null,
});
const names = (items: readonly Item[]) => items.map((i) => i.label);

describe('items that stand out', () => {
  it('are the highest and the lowest, ties by day, then label', () => {
    const items = [
      item('b', 5),
      item('a', 5),
      item('old', 5, '2026-10-01'),
      item('top', 9),
      item('low', 1),
      item('lower', 0),
    ];
    expect(names(standing(items, 2).best)).toEqual(['top', 'old']);
    expect(names(standing(items, 2).worst)).toEqual(['lower', 'low']);
    expect(names(standing(items, 4).best)).toEqual(['top', 'old', 'a', 'b']);
  });

  it('are never both, and never one whose figure is not known', () => {
    const value = fc.oneof(
      fc.integer({ min: -5, max: 5 }).map((n) => ({ value: n })),
      fc.constant({ na: 'no-data' as const }),
    );
    fc.assert(
      fc.property(fc.array(value, { maxLength: 12 }), fc.integer({ min: 1, max: 6 }), (values, n) => {
        const items = values.map((v, i) => ({ ...item(`i${i}`, 0), value: v }));
        const { best, worst, of } = standing(items, n);
        expect(of).toBe(values.filter((v) => 'value' in v).length);
        expect(best.length).toBe(Math.min(n, of));
        expect(worst.length).toBe(Math.min(n, of - best.length));
        expect(new Set([...names(best), ...names(worst)]).size).toBe(best.length + worst.length);
        const size = (i: Item) => ('value' in i.value ? i.value.value : Number.NaN);
        for (const high of best) for (const low of worst) expect(size(high)).toBeGreaterThanOrEqual(size(low));
      }),
    );
  });
});

const posts = ['Harvest', 'A question', 'Thank you'];
const dim = (labels: string[], codes: number[]) => ({ labels, codes: Int32Array.from(codes) });
const dataset: Dataset = {
  id: 'posts',
  name: 'Posts',
  firstDay: '2026-09-01',
  dimensions: ['profile', 'post', 'postLink', 'postPicture'],
  measures: ['reactions', 'comments', 'postShares'],
  covered: coverageOf(Array.from({ length: 61 }, (_, i) => toDayNumber('2026-09-01') + i)),
  columns: {
    // Two days of the first post, one of each other; one of September.
    days: Int32Array.from(['2026-09-30', '2026-10-03', '2026-10-04', '2026-10-20'].map(toDayNumber)),
    dims: {
      profile: dim(['Films', 'Photographs'], [0, 0, 1, 1]),
      post: dim(posts, [2, 0, 0, 1]),
      postLink: dim(['https://social.example/harvest', '', 'https://social.example/thanks'], [2, 0, 0, 1]),
      postPicture: dim(['https://social.example/harvest.jpg', ''], [1, 0, 0, 1]),
    },
    measures: {
      reactions: Float64Array.from([50, 10, 20, 4]),
      comments: Float64Array.from([0, 1, 1, 0]),
      postShares: Float64Array.from([0, 0, 2, 0]),
    },
  },
};
const knowledge = { book: metricBook(), targets: [] };

describe('items of a period', () => {
  const ask = { op: 'items', metric: 'postEngagements', dimension: 'post', n: 3, range: october, filter: {} } as const;

  it('are measured over it, with the day on which each is there first, its link and its picture', () => {
    const found = answer(ask, [dataset], knowledge);
    expect(found).toEqual({
      op: 'items',
      standing: {
        of: 2,
        best: [
          {
            label: 'Harvest',
            value: { value: 34 },
            day: '2026-10-03',
            link: 'https://social.example/harvest',
            picture: 'https://social.example/harvest.jpg',
          },
          { label: 'A question', value: { value: 4 }, day: '2026-10-20', link: null, picture: null },
        ],
        worst: [],
      },
    });
  });

  it('are counted by a filter, and read with what tells of them', () => {
    const films = answer({ ...ask, filter: { profile: ['Films'] } }, [dataset], knowledge);
    expect(films.op === 'items' && !('na' in films.standing) && names(films.standing.best)).toEqual(['Harvest']);
    const [need] = planReads([ask], [dataset], knowledge);
    expect([...need!.dimensions].sort()).toEqual(['post', 'postLink', 'postPicture']);
  });

  it('lead to where their feed says', () => {
    const links = { op: 'links', metric: 'reactions', dimension: 'post', range: october, filter: {} } as const;
    expect(answer(links, [dataset], knowledge)).toEqual({
      op: 'links',
      links: { Harvest: 'https://social.example/harvest' },
    });
    expect(answer({ ...links, dimension: 'campaign' }, [dataset], knowledge)).toEqual({ op: 'links', links: {} });
  });
});
