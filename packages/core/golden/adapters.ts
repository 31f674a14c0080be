import {
  type ComparisonSpec,
  nextOccurrences,
  type PeriodSpec,
  type Range,
  type Rule,
  resolveComparison,
  resolvePeriod,
  skipping,
  type WorkingDayRule,
} from '../src/calendar/index.ts';
import { type ScheduleBacklog, sortMissed } from '../src/edition/index.ts';
import { fillMergeFields, type MergeTarget } from '../src/report/mergeFields.ts';
import { aggregation, breakdown, excluded, pace, steps } from './figuresAdapters.ts';
import { own } from './ownAdapter.ts';

/** What a vector file holds, and how two answers are compared: see README.md beside this file. */
export interface VectorFile {
  about: string;
  spec: string;
  cases: { id: string; why?: string; in: unknown; out: unknown }[];
}

type Adapter = (input: never, expected: never) => unknown;

interface PeriodsIn {
  asOf: string;
  weekStart: number;
  fiscalStart: number;
  spec: PeriodSpec;
}
interface ComparisonsIn extends Omit<PeriodsIn, 'spec'> {
  clientStart: string;
  period: PeriodSpec;
  comparison: ComparisonSpec;
}
interface RecurrenceIn {
  rule: Rule;
  firstDate: string;
  lastDate: string | null;
  skip: string[];
  weekStart: number;
  workingDays: number[];
  holidays: string[];
  workingDayRule: WorkingDayRule;
  time: string;
  zone: string;
  from: string;
  count: number;
  covers?: { period: PeriodSpec; fiscalStart: number; clientZone: string };
}

function comparisons(c: ComparisonsIn): unknown {
  const found = resolveComparison(c.comparison, c.period, c.asOf, c.clientStart, c);
  if (found.kind === 'range') return found.range;
  return found.kind === 'ranges' ? { ranges: found.ranges } : { range: null, reason: found.reason };
}

function recurrence(r: RecurrenceIn): unknown {
  const calendar = { workingDays: r.workingDays, holidays: new Set(r.holidays) };
  return nextOccurrences({ ...r, calendar, exceptions: skipping(r.skip) }, r.from, r.count).map((o) => ({
    ...o,
    at: new Date(o.at).toISOString().replace('.000Z', 'Z'),
    ...(r.covers && {
      covers: resolvePeriod(r.covers.period, o.nominal, { weekStart: r.weekStart, fiscalStart: r.covers.fiscalStart }),
    }),
  }));
}

function missed(m: { now: string; schedules: ScheduleBacklog[] }): unknown {
  const { run, skipped } = sortMissed(m.now, m.schedules);
  skipped.sort((a, b) => (a.schedule < b.schedule ? -1 : a.schedule > b.schedule ? 1 : a.at < b.at ? -1 : 1));
  return { run, skipped };
}

interface MergeIn {
  template: string;
  target: MergeTarget;
  metrics: string[];
  context: Record<string, string | null>;
}
type MergeExpected = { text: string } | { error: string[] } | { forbid: string[]; keeps: string[] };

function mergefields(m: MergeIn, expected: MergeExpected): unknown {
  const filled = fillMergeFields(m.template, m.target, m.metrics, m.context);
  if (!filled.ok) {
    const { code, field } = filled.fault;
    // Any one of the codes listed is right; the vector's whole list stands for a hit.
    return { error: 'error' in expected && expected.error.includes(code) ? expected.error : [code], field };
  }
  if (!('keeps' in expected)) {
    return { text: filled.text.replace(/&#x27;|&apos;/g, '&#39;').replace(/&#34;/g, '&quot;') };
  }
  let at = 0;
  const keeps = expected.keeps.filter((word) => {
    const found = filled.text.indexOf(word, at);
    if (found >= 0) at = found + word.length;
    return found >= 0;
  });
  return { forbid: expected.forbid.filter((bad) => !filled.text.includes(bad)), keeps };
}

const periods = (p: PeriodsIn): Range => resolvePeriod(p.spec, p.asOf, p);

/** One line a vector file: its name without `.json`, and the call that answers a case in the file's own shape. */
export const adapters: Record<string, Adapter> = {
  periods,
  comparisons,
  recurrence,
  missed,
  mergefields,
  aggregation,
  breakdown,
  pace,
  steps,
  excluded,
  own,
};

/** The first difference between an answer and what a vector expects, as a path, or null when they agree. */
export function differs(expected: unknown, actual: unknown, path = 'out'): string | null {
  if (typeof expected === 'number' && typeof actual === 'number') {
    return Math.abs(expected - actual) <= 1e-9 * Math.max(1, Math.abs(expected))
      ? null
      : `${path}: ${actual}, not ${expected}`;
  }
  if (Array.isArray(expected)) {
    if (!Array.isArray(actual) || actual.length !== expected.length) {
      return `${path}: ${JSON.stringify(actual)}, not ${JSON.stringify(expected)}`;
    }
    return expected.map((e, i) => differs(e, actual[i], `${path}[${i}]`)).find((d) => d !== null) ?? null;
  }
  if (expected !== null && typeof expected === 'object') {
    if (actual === null || typeof actual !== 'object') return `${path}: ${String(actual)}`;
    return (
      Object.entries(expected)
        .map(([k, e]) => differs(e, (actual as Record<string, unknown>)[k], `${path}.${k}`))
        .find((d) => d !== null) ?? null
    );
  }
  return Object.is(expected, actual) ? null : `${path}: ${JSON.stringify(actual)}, not ${JSON.stringify(expected)}`;
}

/** Runs one case of a file: null when it holds, else what differs. */
export function runCase(file: string, c: { in: unknown; out: unknown }): string | null {
  const adapter = adapters[file];
  if (!adapter) return `no adapter for ${file}`;
  try {
    return differs(c.out, adapter(c.in as never, c.out as never));
  } catch (error) {
    return String(error);
  }
}
