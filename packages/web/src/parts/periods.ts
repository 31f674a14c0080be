import type { ComparisonSpec, PeriodSpec } from '@chronicon/core/calendar';
import { plainDate } from './when.ts';

interface Choice<T> {
  key: string;
  label: string;
  spec: T;
}

const unit = (u: 'day' | 'week' | 'month' | 'quarter' | 'year', offset: number): PeriodSpec => ({
  kind: 'unit',
  unit: u,
  offset,
});

/** Periods as people say them; a schedule counts from its own date, a report from today. */
export const PERIODS: Choice<PeriodSpec>[] = [
  { key: 'month', label: 'last month', spec: unit('month', -1) },
  { key: 'week', label: 'last week', spec: unit('week', -1) },
  { key: 'rolling7', label: 'the last 7 days', spec: { kind: 'rolling', days: 7 } },
  { key: 'rolling28', label: 'the last 28 days', spec: { kind: 'rolling', days: 28 } },
  { key: 'rolling90', label: 'the last 90 days', spec: { kind: 'rolling', days: 90 } },
  { key: 'quarter', label: 'last quarter', spec: unit('quarter', -1) },
  { key: 'year', label: 'last year', spec: unit('year', -1) },
  { key: 'monthToDate', label: 'the month to date', spec: { kind: 'unit', unit: 'month', toDate: true } },
  { key: 'yearToDate', label: 'the year to date', spec: { kind: 'unit', unit: 'year', toDate: true } },
];

/** For clients whose year does not begin in January. */
export const FISCAL: Choice<PeriodSpec>[] = [
  {
    key: 'fiscalQuarter',
    label: 'last fiscal quarter',
    spec: { kind: 'unit', unit: 'quarter', offset: -1, fiscal: true },
  },
  {
    key: 'fiscalYear',
    label: 'last fiscal year',
    spec: { kind: 'unit', unit: 'year', offset: -1, fiscal: true },
  },
  {
    key: 'fiscalYearToDate',
    label: 'the fiscal year to date',
    spec: { kind: 'unit', unit: 'year', toDate: true, fiscal: true },
  },
];

export const COMPARISONS: Choice<ComparisonSpec>[] = [
  { key: 'previous', label: 'the previous period', spec: { kind: 'previous' } },
  { key: 'lastYear', label: 'the same period last year', spec: { kind: 'lastYear' } },
  { key: 'first', label: 'the first recorded period', spec: { kind: 'first' } },
  { key: 'typical', label: 'the typical level (last 6 periods)', spec: { kind: 'typical', k: 6 } },
  { key: 'target', label: 'the target', spec: { kind: 'target' } },
  { key: 'none', label: 'nothing', spec: { kind: 'none' } },
];

const same = (a: unknown, b: unknown): boolean => {
  const plain = (v: unknown) => JSON.stringify(Object.entries(v as object).sort());
  return plain(a) === plain(b);
};

const knownPeriod = (spec: PeriodSpec) => [...PERIODS, ...FISCAL].find((p) => same(p.spec, spec));

export const keyOfPeriod = (spec: PeriodSpec): string => knownPeriod(spec)?.key ?? spec.kind;
export const keyOfComparison = (spec: ComparisonSpec): string =>
  COMPARISONS.find((c) => same(c.spec, spec))?.key ?? spec.kind;

export function periodWords(spec: PeriodSpec): string {
  const known = knownPeriod(spec);
  if (known) return known.label;
  if (spec.kind === 'fixed') return datesOf(spec);
  if (spec.kind === 'rolling') return `the last ${spec.days} days`;
  const unit = spec.fiscal ? `fiscal ${spec.unit}` : spec.unit;
  if (spec.toDate) return `the ${unit} to date`;
  const back = -(spec.offset ?? 0);
  return back === 0 ? `the whole of this ${unit}` : `the ${unit} ${back} before`;
}

export function comparisonWords(spec: ComparisonSpec): string {
  const known = COMPARISONS.find((c) => same(c.spec, spec));
  if (known) return known.label;
  if (spec.kind === 'fixed') return datesOf(spec);
  if (spec.kind === 'typical') return `the typical level (last ${spec.k} periods)`;
  return COMPARISONS.find((c) => c.spec.kind === spec.kind)?.label ?? '';
}

const datesOf = ({ from, to }: { from: string; to: string }): string =>
  from === to ? plainDate(from) : `${plainDate(from)} to ${plainDate(to)}`;
