import { addDays, type CivilDate, type Range, toDayNumber } from '../../calendar/index.ts';
import { keptRows, rowsOf } from '../columns.ts';
import { coveredDays } from '../coverage.ts';
import type { Dataset } from '../dataset.ts';
import { FEED } from '../feedPart.ts';
import type { Aggregation } from '../metric.ts';
import { asPartial, isKnown, known, na, type Value } from '../value.ts';
import { type Ask, judgeCoverage, type Kind } from './kind.ts';

type Level = Extract<Aggregation, { kind: 'level' }>;

/** A value is good for this many days after it was delivered. */
const GOOD_FOR = 7;
const NEVER = -2_147_483_648;

const isCovered = (ask: Ask, day: CivilDate): boolean => coveredDays(ask.dataset.covered, { from: day, to: day }) === 1;

/** Each row's series, numbered, and how many there are. */
interface Series {
  of: Int32Array;
  count: number;
}

/** Of one state of a dataset, which never changes: what is asked label by label is numbered once, for both ends of a range. */
const numbered = new WeakMap<Dataset['columns'], { start: number; end: number; series: Series }[]>();
const ENDS = 2;

/** One series for each combination of dimension values, numbered; and each row's series. */
function seriesOfRows({ dataset }: Ask, start: number, end: number): Series {
  const kept = numbered.get(dataset.columns) ?? [];
  const found = kept.find((k) => k.start === start && k.end === end);
  if (found) return found.series;
  const series = numberSeries(dataset, start, end);
  numbered.set(dataset.columns, [{ start, end, series }, ...kept].slice(0, ENDS));
  return series;
}

function numberSeries(dataset: Dataset, start: number, end: number): Series {
  const dims = Object.values(dataset.columns.dims);
  const of = new Int32Array(end - start);
  const numbers = new Map<number | string, number>();
  const spans = dims.map((d) => d.labels.length || 1);
  const fits = spans.reduce((n, s) => n * s, 1) < Number.MAX_SAFE_INTEGER;
  for (let i = start; i < end; i++) {
    const key = fits ? dims.reduce((n, d, k) => n * spans[k]! + d.codes[i]!, 0) : dims.map((d) => d.codes[i]).join(' ');
    let number = numbers.get(key);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(key, number);
    }
    of[i - start] = number;
  }
  return { of, count: numbers.size };
}

/** The last day of each series: that of its feed, where that ended or another one continues it. */
function endsOfSeries({ columns, parts }: Dataset, of: Int32Array, start: number, count: number): Float64Array {
  const ends = new Float64Array(count).fill(Number.POSITIVE_INFINITY);
  const feed = columns.dims[FEED];
  if (!parts || !feed) return ends;
  const byFeed = new Map(parts.map((p) => [p.feed, p.to === null ? Number.POSITIVE_INFINITY : toDayNumber(p.to)]));
  for (let i = 0; i < of.length; i++) {
    ends[of[i]!] = byFeed.get(feed.labels[feed.codes[start + i]!]!) ?? Number.POSITIVE_INFINITY;
  }
  return ends;
}

/** The sum of the last known values at the end of a day; `series` of them, `stale` when one had to be left out. */
interface LastKnown {
  sum: number;
  series: number;
  stale: boolean;
}

/**
 * The last value of each series, added up, at the end of each day of a range. One pass over all rows up to its end:
 * a series that was never seen again is missed for ever.
 */
function lastKnown(a: Level, ask: Ask, range: Range): LastKnown[] {
  const { columns } = ask.dataset;
  const { start, end } = rowsOf(columns, { from: ask.dataset.firstDay, to: range.to });
  const keep = keptRows(columns, ask.filter);
  const column = columns.measures[a.measure]!;
  const { of, count } = seriesOfRows(ask, start, end);
  const endOf = endsOfSeries(ask.dataset, of, start, count);
  const seenAt = new Int32Array(count).fill(NEVER);
  const values = new Float64Array(count);
  const out: LastKnown[] = [];
  const seen: number[] = [];
  let i = start;
  for (let day = toDayNumber(range.from); day <= toDayNumber(range.to); day++) {
    for (; i < end && columns.days[i]! <= day; i++) {
      if (keep !== null && keep[i] === 0) continue;
      const series = of[i - start]!;
      const at = columns.days[i]!;
      if (seenAt[series] === NEVER) seen.push(series);
      values[series] = seenAt[series] === at ? values[series]! + column[i]! : column[i]!;
      seenAt[series] = at;
    }
    let sum = 0;
    let fresh = 0;
    let wanted = 0;
    for (const series of seen) {
      if (endOf[series]! < day) continue;
      wanted++;
      if (seenAt[series]! < day - GOOD_FOR) continue;
      sum += values[series]!;
      fresh++;
    }
    out.push({ sum, series: fresh, stale: fresh < wanted });
  }
  return out;
}

/** A level at the end of each day of a range; null where it is not known. */
export const dailyLevels = (a: Level, ask: Ask): (number | null)[] =>
  lastKnown(a, ask, ask.range).map((l) => (l.series > 0 ? l.sum : null));

function levelAt(a: Level, ask: Ask, day: CivilDate): Value {
  if (day < ask.dataset.firstDay) return na('before-start');
  const { sum, series, stale } = lastKnown(a, ask, { from: day, to: day })[0]!;
  if (series === 0) return na(isCovered(ask, day) ? 'no-data' : 'not-covered');
  const value = known(sum);
  if (!stale && isCovered(ask, day)) return value;
  const lack = judgeCoverage(ask.dataset, { from: day, to: day });
  return asPartial(value, lack && !('na' in lack) && lack.feeds ? { feeds: lack.feeds } : {});
}

function level(a: Level, ask: Ask): Value {
  const value = levelAt(a, ask, ask.range.to);
  // A level hangs on its last day, whichever others are left out.
  const { from, to } = ask.range;
  const nothing = judgeCoverage(ask.dataset, { from, to });
  return isKnown(value) && nothing && 'na' in nothing ? { ...value, partial: true } : value;
}

function net(a: Level, ask: Ask): Value {
  if (ask.range.from <= ask.dataset.firstDay) return na('before-start');
  const now = level(a, ask);
  if (!isKnown(now)) return now;
  const before = levelAt(a, ask, addDays(ask.range.from, -1));
  if (!isKnown(before)) return before;
  return { value: now.value - before.value, ...((now.partial || before.partial) && { partial: true as const }) };
}

/** The last known value on or before the range's end, at most 7 days old; or its growth over the range (SEMANTICS §4). */
export const levels: Kind<Level> = {
  measures: (a) => [a.measure],
  value: (a, ask) => (a.net ? net(a, ask) : level(a, ask)),
  typical: 'mean',
};
