import type { Figures } from '@chronicon/core/contract';
import { createNumbers } from '@chronicon/core/contract/display';
import { describe, expect, it } from 'vitest';
import { cutAt } from './cutSteps.ts';
import { rowsOf, sorted, tableText } from './FiguresTable.tsx';
import { changeWords, partialText } from './figureText.ts';
import { parseView, type View, viewSearch } from './view.ts';

const numbers = createNumbers('en-GB', 'GBP');

describe('a view of figures', () => {
  it('is its address: everything comes back after a reload, and what is usual is not written down', () => {
    const view: View = {
      metrics: ['visits', 'revenue'],
      by: 'channel',
      filter: [
        { dimension: 'device', how: 'only', values: ['Mobile', 'Tablet'] },
        { dimension: 'landingPage', how: 'except', values: ['/a,b;c=d!'] },
      ],
      period: { kind: 'fixed', from: '2026-10-01', to: '2026-10-15' },
      compare: { kind: 'typical', k: 6 },
      step: 'week',
      order: 'change',
      n: 40,
      chart: 'revenue',
      shape: 'bars',
      see: 'why',
      whyBy: 'device',
      sort: '-1c',
      of: {
        metric: 'visits',
        from: '2026-10-01',
        to: '2026-10-31',
        without: ['2026-10-08', '2026-10-19'],
        filter: [{ dimension: 'device', how: 'only', values: ['Mobile'] }],
      },
    };
    const search = viewSearch(view, new URLSearchParams('client=cl_1'));
    expect(parseView(new URLSearchParams(search.toString()), 'orders')).toEqual(view);
    expect(search.get('client')).toBe('cl_1');
    const usual = parseView(new URLSearchParams(), 'visits');
    expect(viewSearch(usual, new URLSearchParams()).toString()).toBe('metrics=visits');
  });

  it('takes what is usual where an address makes no sense', () => {
    const view = parseView(new URLSearchParams('period=soon&compare=x&filter=%%&chart=nothing&of=1'), 'visits');
    expect(view).toMatchObject({
      metrics: ['visits'],
      period: { kind: 'unit', unit: 'month', offset: -1 },
      compare: { kind: 'previous' },
      filter: [],
      chart: 'visits',
      of: null,
    });
  });
});

const cell = (current: number | null, compared: number) => ({
  current: current === null ? ({ na: 'not-covered' } as const) : { value: current },
  compared: { value: compared },
});
const figures = {
  period: { from: '2026-10-01', to: '2026-10-31', label: 'October 2026', dates: '' },
  compared: { from: '2026-09-01', to: '2026-09-30', label: 'September 2026', dates: '' },
  metrics: [{ key: 'visits', label: 'Visits', unit: 'count', polarity: 'higher', definition: '', divides: true }],
  series: null,
  excluded: [null],
  breakdown: {
    dimension: { key: 'channel', label: 'Channel' },
    rows: [
      { label: 'Email', status: 'both', cells: [cell(1_200, 5)] },
      { label: 'Direct', status: 'both', cells: [cell(null, 9)] },
      { label: 'Social', status: 'new', cells: [cell(3_000, 1)] },
    ],
    other: [cell(7, 7)],
    lack: null,
  },
} as unknown as Figures;

describe('the table of figures', () => {
  const heads = (sort: string) => sorted(rowsOf(figures), sort).map((r) => r.name);

  it('sorts by any column; what is unknown comes last, and the rest of all stays below', () => {
    expect(heads('')).toEqual(['Email', 'Direct', 'Social', 'Other']);
    expect(heads('-0')).toEqual(['Social', 'Email', 'Direct', 'Other']);
    expect(heads('0')).toEqual(['Email', 'Social', 'Direct', 'Other']);
    expect(heads('-0c')).toEqual(['Direct', 'Email', 'Social', 'Other']);
    expect(heads('head')).toEqual(['Direct', 'Email', 'Social', 'Other']);
  });

  it('is copied as it is shown, cells parted by tabs', () => {
    expect(tableText(figures, sorted(rowsOf(figures), '-0'), numbers).split('\n')).toEqual([
      'Channel\tVisits\tVisits, September 2026',
      'Social\t3,000\t1',
      'Email\t1,200\t5',
      'Direct\tnot received\t9',
      'Other\t7\t7',
    ]);
  });

  it('keeps the mark of what is partly known when it is copied', () => {
    const partly = { value: 1_200, partial: true as const, share: 0.5 };
    const row = { label: 'Email', status: 'both' as const, cells: [{ current: partly, compared: { value: 5 } }] };
    const held = { ...figures, breakdown: { ...figures.breakdown!, rows: [row], other: null } };
    expect(tableText(held, rowsOf(held), numbers)).toContain('Email\t1,200 (◐ 50% of days)\t5');
  });

  it('holds each step against its own dates, and keeps what the compared range has beyond', () => {
    const week = (from: string, to: string) => ({ from, to });
    const inTime = {
      ...figures,
      breakdown: null,
      series: {
        step: 'week' as const,
        times: [week('2026-09-21', '2026-09-27'), week('2026-09-28', '2026-09-30')],
        comparedTimes: [week('2026-08-21', '2026-08-27'), week('2026-08-28', '2026-08-30')],
        comparable: [true, true],
        beyond: [week('2026-08-31', '2026-08-31')],
        lines: [
          {
            current: [{ value: 70 }, { value: 30 }],
            compared: [{ value: 7 }, { value: 3 }],
            beyond: [{ value: 1 }],
            target: null,
            without: ['', ''],
          },
        ],
      },
    };
    const rows = rowsOf(inTime);
    expect(rows.map((r) => [r.comparedRange?.from, r.cells[0]!.current === null, r.comparable])).toEqual([
      ['2026-08-21', false, true],
      ['2026-08-28', false, true],
      ['2026-08-31', true, false],
    ]);
    expect(tableText(inTime, rows, numbers).split('\n').at(-1)).toBe('–\tMon 31 Aug 2026\t\t1');
  });
});

describe('a change', () => {
  const metric = { unit: 'count', polarity: 'higher' } as const;
  it('is told of whole figures alone', () => {
    expect(changeWords({ value: 150 }, { value: 100 }, metric, numbers)).toMatchObject({
      text: '+50.0%',
      word: 'better',
    });
    const partly = { value: 100, partial: true as const, share: 0.3 };
    expect(changeWords({ value: 150 }, partly, metric, numbers)).toBeNull();
    expect(changeWords(partly, { value: 100 }, metric, numbers)).toBeNull();
    expect(partialText({ ...partly, share: 0.9999 }, numbers)).toBe('99% of days');
  });
});

it('leaves a week that is only begun out of the line', () => {
  const times = [
    { from: '2026-10-01', to: '2026-10-04' },
    { from: '2026-10-05', to: '2026-10-11' },
    { from: '2026-10-12', to: '2026-10-18' },
    { from: '2026-10-19', to: '2026-10-25' },
  ];
  const series = {
    step: 'week' as const,
    times,
    comparedTimes: null,
    comparable: times.map(() => true),
    beyond: [],
    lines: [],
  };
  expect(times.map((_, i) => cutAt({ ...series, times, lines: [] }, i))).toEqual([true, false, false, false]);
});
