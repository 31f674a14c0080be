import { describe, expect, it } from 'vitest';
import { keyOf, STANDARD, valueOfAnswer } from '../figures/index.ts';
import type { Block } from '../report/index.ts';
import { figureRows } from './figureRows.ts';
import { type Sample, sampleOf } from './gallery/sampleScene.ts';
import { GALLERY_DATES, galleryFacts } from './gallery/states.ts';

const rowsOf = (sample: Sample) => {
  const { input, answers, document } = sampleOf(sample);
  return { answers, rows: figureRows({ document, dates: input, answers, book: input.book, format: input.format }) };
};
const kpis: Block = { kind: 'kpiRow', id: 'k', metrics: ['visits', 'bounceRate'] };

describe('figures that go along with a report', () => {
  it('are the totals, with their dates, what they are held against, and the change', () => {
    const { rows, answers } = rowsOf({ rows: [[kpis]] });
    const { period, compared } = GALLERY_DATES;
    expect(rows.map((r) => r.figure)).toEqual(['Visits', 'Bounce rate']);
    const [visits] = rows;
    expect(visits).toMatchObject({ page: 'Page 1', from: period.from, to: period.to, comparedFrom: compared.from });
    const total = answers[keyOf({ op: 'total', metric: 'visits', range: period, filter: {} })];
    expect(visits!.value).toBe((valueOfAnswer(total) as { value: number }).value);
    const before = visits!.comparedValue as number;
    expect(visits!.change).toBeCloseTo(((visits!.value as number) / before - 1) * 100, 9);
    // Of rates the change is relative, too; in points it has a column of its own.
    const rate = rows[1]!;
    const [now, then] = [rate.value as number, rate.comparedValue as number];
    expect(rate.change).toBeCloseTo((now / then - 1) * 100, 9);
    expect(rate.points).toBeCloseTo((now - then) * 100, 9);
    expect(visits!.points).toBeNull();
  });

  it('are every row of a table and every day of a chart, and add up', () => {
    const { rows } = rowsOf({
      rows: [
        [{ kind: 'ranking', id: 'r', dimension: 'channel', metrics: ['visits'], n: 3, title: '' }],
        [{ kind: 'trend', id: 't', metric: 'visits', title: '' }],
      ],
    });
    const table = rows.filter((r) => r.block === 'Ranking');
    expect(table.map((r) => r.label).slice(-2)).toEqual(['Other', 'Total']);
    const parts = table.slice(0, -1).reduce((sum, r) => sum + (r.value as number), 0);
    expect(parts).toBe(table.at(-1)!.value);
    const days = rows.filter((r) => r.block === 'Trend' && r.from === r.to);
    expect(days).toHaveLength(31);
    expect(days.reduce((sum, r) => sum + (r.value as number), 0)).toBe(table.at(-1)!.value);
    expect(days[0]).toMatchObject({ from: '2026-10-01', comparedFrom: '2026-09-01' });
    // September has no 31st.
    expect(days[30]).toMatchObject({ from: '2026-10-31', comparedFrom: null, change: null });
  });

  it('say what they lack, and tell no change then', () => {
    const { rows } = rowsOf({ rows: [[kpis]], facts: galleryFacts('partial', STANDARD) });
    expect(rows[0]).toMatchObject({ note: 'some days have no data', change: null });
    const { rows: none } = rowsOf({ rows: [[kpis]], facts: [] });
    expect(none[0]).toMatchObject({ value: null, note: 'no data' });
  });

  it('are in the language of the report', () => {
    const { rows } = rowsOf({
      rows: [[{ kind: 'drivers', id: 'd', dimension: 'channel', metric: 'visits', n: 3, title: '' }]],
      language: 'de-DE',
    });
    expect(rows.some((r) => r.figure === 'Veränderung: Besuche' && r.label === 'Organische Suche')).toBe(true);
  });
});
