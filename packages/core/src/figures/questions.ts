import type { CivilDate } from '../calendar/index.ts';
import type { Typical } from './aggregate.ts';
import { type MetricBook, STANDARD } from './book.ts';
import type { Breakdown } from './breakdown.ts';
import type { DailyValues } from './byDay.ts';
import { type CountedRange, withoutKey } from './countedRange.ts';
import type { Exclusion } from './excluded.ts';
import { type Filter, filterKey } from './filter.ts';
import type { Standing } from './items.ts';
import { judgedRanges, type Odd } from './oddAnswer.ts';
import { type Pace, paceDays } from './paceAnswer.ts';
import type { Peers } from './peersAnswer.ts';
import type { Rhythm } from './rhythm.ts';
import type { Step } from './steps.ts';
import type { Target } from './targets.ts';
import type { NotAvailable, Value } from './value.ts';
import type { Drivers } from './why.ts';

/** What figures are held against when it is no range of dates (SEMANTICS §3). */
export type Against = { kind: 'typical'; ranges: readonly CountedRange[] } | { kind: 'target' };

/**
 * What a block, a mail or a screen wants to know. Ranges are settled dates with the days that they leave out, so a question means
 * one thing for ever.
 */
export type Question =
  /** `usual`: under the report's assumptions as they are by default. */
  | { op: 'total'; metric: string; range: CountedRange; filter: Filter; usual?: true }
  | { op: 'byDay'; metric: string; range: CountedRange; filter: Filter }
  /** One value for each of several ranges. */
  | { op: 'bySteps'; metric: string; ranges: readonly CountedRange[]; filter: Filter }
  | {
      op: 'top';
      metrics: string[];
      dimension: string;
      n: number;
      range: CountedRange;
      compared: CountedRange | null;
      filter: Filter;
      order?: 'current' | 'change';
      /** What the first metric is held against where no range is: label by label, and as a whole. */
      against?: Against | undefined;
    }
  | { op: 'drivers'; metric: string; dimension: string; range: CountedRange; compared: CountedRange; filter: Filter }
  | { op: 'typical'; metric: string; ranges: readonly CountedRange[]; filter: Filter }
  /** What a metric usually is at each step of a period: from the comparable steps at its place (SEMANTICS §3). */
  | {
      op: 'typicalSteps';
      metric: string;
      period: CountedRange;
      ranges: readonly CountedRange[];
      step: Step;
      weekStart: number;
      filter: Filter;
    }
  | { op: 'target'; metric: string; range: CountedRange; filter: Filter }
  | { op: 'rhythm'; metric: string; range: CountedRange; filter: Filter; weekStart: number }
  /** How a figure stands within a range as of a day, and where it will end (SEMANTICS §8). */
  | { op: 'pace'; metric: string; range: CountedRange; at: CivilDate; weekStart: number; filter: Filter }
  /** The items of a dimension (posts, pages) that stand out by a metric. */
  | { op: 'items'; metric: string; dimension: string; n: number; range: CountedRange; filter: Filter }
  /** The days of a metric for each of the values of a dimension that lead by it. */
  | { op: 'topByDay'; metric: string; dimension: string; n: number; range: CountedRange; filter: Filter }
  /** Where the values of a dimension lead. */
  | { op: 'links'; metric: string; dimension: string; range: CountedRange; filter: Filter }
  /** Ourselves beside others, over the days that are known of both; what is filtered is ours. */
  | { op: 'peers'; metric: string; theirs: string; dimension: string; range: CountedRange; filter: Filter }
  /** The odd days of a figure, and of what it is held against (SEMANTICS §6). */
  | { op: 'oddDays'; metric: string; range: CountedRange; compared: CountedRange | null; filter: Filter };

export type Answer =
  | { op: 'total'; value: Value }
  /** `partly`: of days on which some of several feeds are known, by their place among the values, which have none there. */
  | { op: 'byDay'; values: DailyValues | NotAvailable; partly?: Record<number, Value> }
  | { op: 'bySteps'; values: Value[] }
  | { op: 'top'; breakdown: Breakdown | NotAvailable }
  | { op: 'drivers'; drivers: Drivers | NotAvailable }
  | { op: 'typical'; value: Typical | NotAvailable }
  /** Null where no range has a step that this one may be held against. */
  | { op: 'typicalSteps'; values: (Value | null)[] }
  | { op: 'target'; value: Value }
  | { op: 'rhythm'; rhythm: Rhythm | NotAvailable }
  | { op: 'oddDays'; odd: Odd }
  | { op: 'pace'; pace: Pace }
  | { op: 'items'; standing: Standing | NotAvailable }
  | { op: 'topByDay'; series: { label: string; values: DailyValues }[] | NotAvailable }
  | { op: 'links'; links: Record<string, string> }
  | { op: 'peers'; peers: Peers | NotAvailable };

export type Answers = Record<string, Answer>;

/** What questions are asked of, beside the facts: the client's metrics and its targets. */
export interface Knowledge {
  book: MetricBook;
  /** The metrics under the usual assumptions, where others are made; the same when left out. */
  usual?: MetricBook | undefined;
  targets: readonly Target[];
  /** Days on which little is expected; none when left out. */
  holidays?: readonly CivilDate[] | undefined;
  /** Days that are left out of the client's figures, within the dates of a question and before them; none when left out. */
  excluded?: readonly Exclusion[] | undefined;
}

/** The standard metrics, no targets, no holidays. */
export const PLAIN: Knowledge = { book: STANDARD, targets: [] };

/** The text of a range by which a question's answer is kept, with the days that it leaves out. */
export const rangeKey = (r: CountedRange | null): string => (r ? `${r.from}..${r.to}${withoutKey(r)}` : '-');

const againstKey = (against: Against | undefined): string =>
  against ? ` against ${against.kind === 'target' ? 'target' : against.ranges.map(rangeKey).join(' ')}` : '';

/** The name under which a question's answer is kept: equal questions share one. */
export function keyOf(q: Question): string {
  switch (q.op) {
    case 'top':
      return `top ${q.metrics.join(',')} by ${q.dimension} ${q.n} ${rangeKey(q.compared)} ${q.order ?? 'current'} ${rangeKey(q.range)} ${filterKey(q.filter)}${againstKey(q.against)}`.trimEnd();
    case 'drivers':
      return `drivers ${q.metric} by ${q.dimension} ${rangeKey(q.compared)} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'bySteps':
    case 'typical':
      return `${q.op} ${q.metric} ${q.ranges.map(rangeKey).join(' ')} ${filterKey(q.filter)}`.trimEnd();
    case 'typicalSteps':
      return `typicalSteps ${q.metric} ${q.step} ${q.weekStart} ${rangeKey(q.period)} ${q.ranges.map(rangeKey).join(' ')} ${filterKey(q.filter)}`.trimEnd();
    case 'target':
      return `target ${q.metric} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'oddDays':
      return `oddDays ${q.metric} ${rangeKey(q.range)} ${rangeKey(q.compared)} ${filterKey(q.filter)}`.trimEnd();
    case 'pace':
      return `pace ${q.metric} ${q.at} ${q.weekStart} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'items':
    case 'topByDay':
      return `${q.op} ${q.metric} by ${q.dimension} ${q.n} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'links':
      return `links ${q.metric} by ${q.dimension} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'peers':
      return `peers ${q.metric} and ${q.theirs} by ${q.dimension} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'total':
      return `${q.usual ? 'usual' : 'total'} ${q.metric} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    case 'rhythm':
      return `rhythm ${q.metric} ${q.weekStart} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
    default:
      return `${q.op} ${q.metric} ${rangeKey(q.range)} ${filterKey(q.filter)}`.trimEnd();
  }
}

/** The metrics that a question names. */
export const metricsOf = (q: Question): string[] =>
  q.op === 'top' ? q.metrics : q.op === 'peers' ? [q.metric, q.theirs] : [q.metric];

/** The ranges that a question reads. */
export function rangesOf(q: Question): readonly CountedRange[] {
  switch (q.op) {
    case 'top':
      return [q.range, ...(q.compared ? [q.compared] : []), ...(q.against?.kind === 'typical' ? q.against.ranges : [])];
    case 'drivers':
      return [q.range, q.compared];
    case 'bySteps':
    case 'typical':
    case 'typicalSteps':
      return q.ranges;
    case 'target':
      return [];
    case 'oddDays':
      return judgedRanges(q.range, q.compared);
    case 'pace':
      return [paceDays(q.range, q.at)];
    default:
      return [q.range];
  }
}

/** The dimensions that it filters or breaks down by. */
export function dimensionsOf(q: Question): string[] {
  switch (q.op) {
    case 'top':
    case 'drivers':
    case 'items':
    case 'topByDay':
    case 'links':
      return [...Object.keys(q.filter), q.dimension];
    case 'rhythm':
      return [...Object.keys(q.filter), 'hour'];
    case 'target':
      return [];
    default:
      return Object.keys(q.filter);
  }
}

const isSomething = (value: Value | null): boolean => value !== null && 'value' in value && value.value !== 0;

/** Whether an answer tells of anything beside zeroes: of the period, not of what it is held against. */
export function answersAnything(answer: Answer | undefined): boolean {
  switch (answer?.op) {
    case 'total':
      return isSomething(answer.value);
    case 'byDay':
      return Array.isArray(answer.values) && answer.values.some((v) => v !== null && v !== 0);
    case 'bySteps':
      return answer.values.some(isSomething);
    case 'top':
      return !('na' in answer.breakdown) && answer.breakdown.total.some((cell) => isSomething(cell.current));
    case 'drivers':
      return !('na' in answer.drivers) && answer.drivers.items.some((i) => i.by !== 0);
    case 'rhythm':
      return !('na' in answer.rhythm) && answer.rhythm.cells.some((row) => row.some((v) => v !== null && v !== 0));
    case 'pace':
      return isSomething(answer.pace.toDate);
    case 'topByDay':
      return !('na' in answer.series) && answer.series.some((s) => s.values.some((v) => v !== null && v !== 0));
    case 'items':
      return !('na' in answer.standing) && answer.standing.of > 0;
    case 'peers':
      return !('na' in answer.peers) && answer.peers.rows.some((r) => isSomething(r.value));
    default:
      return false;
  }
}
