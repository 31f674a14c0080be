import type { Figures } from '@chronicon/core/contract';
import { createNumbers } from '@chronicon/core/contract/display';
import { describe, expect, it } from 'vitest';
import { cutAt } from './cutSteps.ts';
import { rowsOf, sorted, tableText } from './FiguresTable.tsx';
import { parseView, type View, viewSearch } from './view.ts';

const numbers = createNumbers('en-GB', 'GBP');

describe('a view of figures', () => {
  it('is its address: everything comes back after a reload, and what is usual is not written down', () => {
    const view: View = {
      metrics: ['visits', 'revenue'],
      by: 'channel',
      filter: [
        { dimension: 'device', values: ['Mobile', 'Tablet'], except: false },
        { dimension: 'landingPage', values: ['/a,b;c=d!'], except: true },
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
      of: { metric: 'visits', from: '2026-10-01', to: '2026-10-01', filter: [] },
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
      'Direct\tnot delivered\t9',
      'Other\t7\t7',
    ]);
  });
});

it('leaves a week that is only begun out of the line', () => {
  const times = [
    { from: '2026-10-01', to: '2026-10-04' },
    { from: '2026-10-05', to: '2026-10-11' },
    { from: '2026-10-12', to: '2026-10-18' },
    { from: '2026-10-19', to: '2026-10-25' },
  ];
  const series = { step: 'week', times, comparedTimes: null, lines: [] } as const;
  expect(times.map((_, i) => cutAt({ ...series, times, lines: [] }, i))).toEqual([true, false, false, false]);
});
