import { describe, expect, it } from 'vitest';
import { STANDARD } from '../figures/index.ts';
import type { Block, Dates } from '../report/index.ts';
import { GALLERY_DATES, galleryFacts, pageFaults } from './gallery/index.ts';
import { sampleScene, textsOf } from './gallery/sampleScene.ts';

type Trend = Extract<Block, { kind: 'trend' }>;
const trend = (more: Partial<Trend> = {}): Trend => ({ kind: 'trend', id: 't', metric: 'visits', title: '', ...more });
const ALONE: Dates = { period: GALLERY_DATES.period, compared: null };
const drawn = (more: Partial<Trend> = {}, dates: Dates = GALLERY_DATES, facts = galleryFacts('full', STANDARD)) =>
  sampleScene({ rows: [[trend(more)]], dates, facts });
const opsOf = (scene: ReturnType<typeof drawn>) => scene.pages.flatMap((p) => p.ops);
/** How many bars there are of one colour, at the most. */
const bars = (scene: ReturnType<typeof drawn>) => {
  const fills = opsOf(scene).flatMap((op) => (op.k === 'rect' ? [op.fill] : []));
  return Math.max(0, ...fills.map((fill) => fills.filter((f) => f === fill).length));
};
/** The gallery's facts, of which these channels brought nothing; all of them where none is named. */
const without = (...channels: string[]) =>
  galleryFacts('full', STANDARD).map((d) => {
    const { dims, measures } = d.columns;
    const isOut = (i: number) =>
      channels.length === 0 || (dims.channel && channels.includes(dims.channel.labels[dims.channel.codes[i]!]!));
    const emptied = Object.entries(measures).map(([key, values]) => [key, values.map((v, i) => (isOut(i) ? 0 : v))]);
    return { ...d, columns: { ...d.columns, measures: Object.fromEntries(emptied) } };
  });
/** How strongly what lies beneath a line is filled. */
const ground = (scene: ReturnType<typeof drawn>) =>
  Math.max(...opsOf(scene).map((op) => (op.k === 'path' && op.fill !== undefined ? (op.opacity ?? 0) : 0)));

describe('a trend of several metrics', () => {
  const scene = drawn({ more: ['orders', 'bounceRate'] });

  it('has a chart for each, one beneath the other, under names of their own', () => {
    const at = ['Visits per day', 'Orders per day', 'Bounce rate'].map((title) => {
      const found = opsOf(scene).find((op) => op.k === 'text' && op.text.trim().startsWith(title));
      return found?.k === 'text' ? found.y : Number.NaN;
    });
    expect(at).toEqual([...at].sort((a, b) => a - b));
    expect(new Set(at).size).toBe(3);
  });

  it('is one block, that is not cut where it is narrow', () => {
    expect(new Set(scene.pages.flatMap((p) => p.blocks.map((b) => b.id)))).toEqual(new Set(['0t']));
    const abreast = sampleScene({
      rows: [
        [
          { ...trend({ more: ['orders', 'bounceRate', 'revenue', 'pageViews'] }), columns: 4 },
          trend({ id: 'u' } as Partial<Trend>),
        ],
      ],
    });
    expect(abreast.pages.flatMap(pageFaults)).toEqual([]);
  });
});

describe('a trend of the values of a dimension', () => {
  const scene = drawn({ by: 'channel' });
  const texts = textsOf(scene);

  it('names a line for each of the largest, and compares none of them', () => {
    const names = ['Organic search', 'Paid search', 'Direct', 'Email', 'Social'];
    expect(names.filter((n) => texts.some((t) => t.startsWith(n))).length).toBeGreaterThan(1);
    // The head of the page says the report’s comparison; the chart does not.
    const chart = texts.slice(texts.indexOf('Visits per day by channel'));
    expect(chart).not.toEqual(texts.slice(-1));
    expect(chart).not.toContain('September 2026');
  });

  it('tells its lines from each other without colour', () => {
    const dashes = opsOf(scene).flatMap((op) => (op.k === 'path' && op.stroke ? [JSON.stringify(op.dash ?? [])] : []));
    expect(new Set(dashes).size).toBeGreaterThan(1);
  });

  it('says why where nothing is known of them', () => {
    const none = sampleScene({ rows: [[trend({ by: 'channel' })]], facts: [] });
    expect(none.pages.flatMap(pageFaults)).toEqual([]);
    expect(textsOf(none).some((t) => /no data/.test(t))).toBe(true);
  });
});

describe('a trend drawn another way', () => {
  it('is columns, one a day, or an area, or the line alone', () => {
    const [line, columns, area] = [
      drawn({}, ALONE),
      drawn({ shape: 'columns' }, ALONE),
      drawn({ shape: 'area' }, ALONE),
    ];
    expect(bars(columns)).toBe(31);
    expect(bars(line)).toBeLessThan(10);
    expect(ground(area)).toBeGreaterThan(ground(line));
    // The same figures, whatever they are drawn as.
    for (const other of [columns, area]) expect(textsOf(other)).toEqual(expect.arrayContaining(['Visits per day']));
  });

  it('has its columns on zero, where all is nothing', () => {
    const none = drawn({ shape: 'columns' }, ALONE, without());
    expect(none.pages.flatMap(pageFaults)).toEqual([]);
  });
});

describe('the points of a trend', () => {
  it('are weeks or months where that is chosen, of what adds up', () => {
    expect(textsOf(drawn({ step: 'week' })).join(' ')).toContain('weekly averages');
    expect(textsOf(drawn()).join(' ')).not.toContain('weekly averages');
    const year: Dates = { period: { from: '2026-01-01', to: '2026-10-31' }, compared: null };
    expect(textsOf(drawn({ step: 'month' }, year)).join(' ')).toContain('monthly averages');
    expect(textsOf(drawn({ step: 'day' }, year)).join(' ')).not.toMatch(/by week|by month/);
  });

  it('stay days of rates, which no average of days says', () => {
    expect(textsOf(drawn({ metric: 'bounceRate', step: 'week' })).join(' ')).not.toContain('weekly averages');
  });

  it('say that days lack within them', () => {
    expect(textsOf(drawn({ step: 'week' }, ALONE, galleryFacts('partial', STANDARD))).join(' ')).toMatch(
      /some days have no data/,
    );
  });
});

describe('a ranking', () => {
  const ranking = (more: object): Block =>
    ({ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 3, title: 'Top', ...more }) as Block;
  const rowsOf = (block: Block, facts = galleryFacts('full', STANDARD)) => {
    const texts = textsOf(sampleScene({ rows: [[block]], facts }));
    return texts.slice(texts.indexOf('Top'));
  };
  const changes = (texts: string[]) =>
    texts.flatMap((t) => (/^[+−][\d.]+%$/.test(t) ? [Number(t.replace('−', '-').replace(/[+%]/g, ''))] : []));

  it('is ordered by value, or by change, the largest first', () => {
    const byChange = changes(rowsOf(ranking({ order: 'change', rows: 'all' }))).slice(0, -1);
    expect(byChange.length).toBeGreaterThan(2);
    expect(new Set(rowsOf(ranking({ order: 'change', rows: 'all' })))).toEqual(
      new Set(rowsOf(ranking({ rows: 'all' }))),
    );
  });

  it('leaves out rows with nothing, and says how many', () => {
    const shown = rowsOf(ranking({ rows: 'all' }), without('Email'));
    const left = rowsOf(ranking({ rows: 'all', zeroes: 'leave' }), without('Email'));
    expect(shown).toContain('Email');
    expect(left).not.toContain('Email');
    expect(left.join(' ')).toContain('1 row with no data not shown.');
    expect(shown.join(' ')).not.toContain('left out');
  });
});
