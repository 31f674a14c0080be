import type { Range } from '../../calendar/index.ts';
import type { Drivers, MetricUnit } from '../../figures/index.ts';

/** Ranges of dates of each kind, with those whose days languages treat apart. */
export const RANGES: readonly (readonly [string, Range])[] = [
  ['a day', { from: '2026-11-18', to: '2026-11-18' }],
  ['the 1st', { from: '2026-11-01', to: '2026-11-01' }],
  ['the 2nd', { from: '2026-11-02', to: '2026-11-02' }],
  ['the 8th', { from: '2026-11-08', to: '2026-11-08' }],
  ['the 11th', { from: '2026-11-11', to: '2026-11-11' }],
  ['days', { from: '2026-11-24', to: '2026-11-30' }],
  ['days 1-7', { from: '2026-11-01', to: '2026-11-07' }],
  ['over month end', { from: '2026-10-29', to: '2026-11-08' }],
  ['over year end', { from: '2025-12-29', to: '2026-01-04' }],
  ['January', { from: '2026-01-01', to: '2026-01-31' }],
  ['April', { from: '2026-04-01', to: '2026-04-30' }],
  ['August', { from: '2026-08-01', to: '2026-08-31' }],
  ['September', { from: '2026-09-01', to: '2026-09-30' }],
  ['October', { from: '2026-10-01', to: '2026-10-31' }],
  ['quarter 1', { from: '2026-01-01', to: '2026-03-31' }],
  ['quarter 2', { from: '2026-04-01', to: '2026-06-30' }],
  ['quarter 4', { from: '2026-10-01', to: '2026-12-31' }],
  ['a year', { from: '2026-01-01', to: '2026-12-31' }],
  ['fiscal year', { from: '2025-04-01', to: '2026-03-31' }],
];

/** A month, which most sentences of the grid compare with. */
export const OCTOBER: Range = { from: '2026-10-01', to: '2026-10-31' };

/** Two values of each unit, the first above the second. */
export const VALUES: Record<MetricUnit, readonly [number, number]> = {
  count: [12_400, 11_000],
  money: [48_210, 41_000],
  percent: [0.412, 0.4],
  duration: [131, 118],
  decimal: [4.2, 3.6],
  position: [8.4, 6.1],
};

const parts = (change: number, items: Drivers['items'], kind: Drivers['kind'] = 'sum'): Drivers => ({
  kind,
  current: 0,
  compared: 0,
  change,
  residual: 0,
  items,
});

interface Case {
  name: string;
  metric: string;
  current: number;
  before: number;
  drivers: Drivers | null;
  dimension: string;
}

const of = (
  name: string,
  metric: string,
  current: number,
  before: number,
  drivers: Drivers | null = null,
  dimension = 'channel',
): Case => ({ name, metric, current, before, drivers, dimension });

const ratio = (change: number, items: Drivers['items']) => parts(change, items, 'ratio');

/** Changes with what brought them: one part, two, more than the whole, all of it, none that is named, of rates, of places. */
export const CHANGES: readonly Case[] = [
  of('no parts', 'revenue', 14_000, 10_000),
  of(
    'two parts',
    'revenue',
    14_000,
    10_000,
    parts(4_000, [
      { label: 'Paid search', by: 2_600 },
      { label: 'Direct', by: 1_400 },
    ]),
  ),
  of(
    'all from one',
    'revenue',
    14_000,
    10_000,
    parts(4_000, [
      { label: 'Paid search', by: 3_990 },
      { label: 'Direct', by: 10 },
    ]),
  ),
  of(
    'more than all, 1 against',
    'revenue',
    14_000,
    10_000,
    parts(4_000, [
      { label: 'Paid search', by: 5_000 },
      { label: 'Email', by: -1_000 },
    ]),
  ),
  of(
    'more than all, 5 against',
    'revenue',
    14_000,
    10_000,
    parts(4_000, [
      { label: 'Paid search', by: 6_295 },
      { label: 'Email', by: -800 },
      { label: 'Direct', by: -600 },
      { label: 'Social', by: -495 },
      { label: 'Display', by: -300 },
      { label: 'Video', by: -100 },
    ]),
  ),
  of(
    'down, two parts',
    'visits',
    10_000,
    14_000,
    parts(-4_000, [
      { label: 'Organic search', by: -3_000 },
      { label: 'Email', by: -1_000 },
    ]),
  ),
  of(
    'down, 2 against',
    'visits',
    10_000,
    14_000,
    parts(-4_000, [
      { label: 'Organic search', by: -6_000 },
      { label: 'Email', by: 1_200 },
      { label: 'Social', by: 800 },
    ]),
  ),
  of(
    'an unnamed part',
    'visits',
    14_000,
    10_000,
    parts(4_000, [
      { label: '', by: 3_000 },
      { label: 'Direct', by: 1_000 },
    ]),
  ),
  of(
    'countries',
    'visits',
    14_000,
    10_000,
    parts(4_000, [
      { label: 'Germany', by: 2_500 },
      { label: 'US', by: 1_500 },
    ]),
    'country',
  ),
  of(
    'a rate, 2 against',
    'bounceRate',
    0.42,
    0.4,
    ratio(0.02, [
      { label: 'Mobile', by: 0.03, rate: 0.03, mix: 0 },
      { label: 'Tablet', by: -0.006, rate: -0.006, mix: 0 },
      { label: 'Desktop', by: -0.004, rate: -0.004, mix: 0 },
    ]),
    'device',
  ),
  of(
    'a rate and a mix',
    'orderRate',
    0.042,
    0.03,
    ratio(0.012, [
      { label: 'Mobile', by: 0.01, rate: 0.009, mix: 0.001 },
      { label: 'Tablet', by: 0.002, rate: 0.0005, mix: 0.0015 },
    ]),
    'device',
  ),
  of('a rate by one point', 'orderRate', 0.04, 0.03),
  of('began', 'revenue', 500, 0),
  of('ended', 'revenue', 0, 500),
  of('began, a count', 'leads', 5, 0),
  of('ended, a count', 'leads', 0, 1),
  of('level', 'revenue', 1_001, 1_000),
  of('position worse', 'position', 8.4, 6.1),
  of('position better', 'position', 6.1, 8.4),
  of('position by one', 'position', 5, 6),
  of('a duration', 'engagedTime', 131, 118),
];
