import { addDays, type CivilDate, toDayNumber } from '../../calendar/index.ts';
import { rowsOf, rowTest } from '../columns.ts';
import { coveredDays } from '../coverage.ts';
import type { Aggregation } from '../metric.ts';
import { isKnown, known, na, type Value } from '../value.ts';
import { type Ask, judgeCoverage, type Kind } from './kind.ts';

type Level = Extract<Aggregation, { kind: 'level' }>;

/** A value is good for this many days after it was delivered. */
const GOOD_FOR = 7;

const isCovered = (ask: Ask, day: CivilDate): boolean => coveredDays(ask.dataset.covered, { from: day, to: day }) === 1;

/** The last value of each series up to `day`, added up; a series is one combination of dimension values. */
function lastKnown(a: Level, ask: Ask, day: CivilDate): { sum: number; series: number; stale: boolean } {
  const { columns } = ask.dataset;
  const { start, end } = rowsOf(columns, { from: ask.dataset.firstDay, to: day });
  const keep = rowTest(columns, ask.filter);
  const column = columns.measures[a.measure]!;
  const codes = Object.values(columns.dims).map((d) => d.codes);
  const oldest = toDayNumber(day) - GOOD_FOR;
  const seen = new Map<string, { day: number; value: number }>();
  for (let i = start; i < end; i++) {
    if (keep !== null && !keep(i)) continue;
    const key = codes.map((c) => c[i]).join(' ');
    const at = columns.days[i]!;
    const last = seen.get(key);
    seen.set(key, { day: at, value: last?.day === at ? last.value + column[i]! : column[i]! });
  }
  const fresh = [...seen.values()].filter((s) => s.day >= oldest);
  return { sum: fresh.reduce((n, s) => n + s.value, 0), series: fresh.length, stale: fresh.length < seen.size };
}

function levelAt(a: Level, ask: Ask, day: CivilDate): Value {
  if (day < ask.dataset.firstDay) return na('before-start');
  const { sum, series, stale } = lastKnown(a, ask, day);
  if (series === 0) return na(isCovered(ask, day) ? 'no-data' : 'not-covered');
  const value = known(sum);
  return isKnown(value) && (stale || !isCovered(ask, day)) ? { ...value, partial: true } : value;
}

function level(a: Level, ask: Ask): Value {
  const value = levelAt(a, ask, ask.range.to);
  const nothing = judgeCoverage(ask.dataset, ask.range);
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
