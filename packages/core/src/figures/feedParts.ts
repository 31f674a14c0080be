import { type CivilDate, maxDate, minDate, type Range, toDayNumber } from '../calendar/index.ts';
import { type CountedRange, countedDays, partOf } from './countedRange.ts';
import { type Coverage, coverageOf, coveredDays, missingDays } from './coverage.ts';
import type { Dataset, DatasetShape } from './dataset.ts';
import { FEED, type FeedPart } from './feedPart.ts';
import { type Filter, keeperOf } from './filter.ts';

/** The days of a range on which a part has to be known; null for none. */
function askedOf({ from, to }: FeedPart, range: CountedRange): CountedRange | null {
  const asked = {
    from: from === null ? range.from : maxDate(from, range.from),
    to: to === null ? range.to : minDate(to, range.to),
  };
  return asked.from > asked.to ? null : partOf(range, asked);
}

/** The days on which each part that has to be known was delivered, from the first day of any to the last one known. */
export function wholeCoverage(parts: readonly FeedPart[]): Coverage {
  const edges = parts.flatMap((p) => p.covered.flat());
  if (edges.length === 0) return [];
  const first = Math.min(...parts.map((p) => toDayNumber(p.firstDay)));
  const last = Math.max(...edges);
  const days: number[] = [];
  const has = parts.map(({ covered }) => {
    const flags = new Uint8Array(Math.max(0, last - first + 1));
    for (const [a, b] of covered) flags.fill(1, Math.max(0, a - first), Math.max(0, b - first + 1));
    return flags;
  });
  const asked = parts.map((p) => [
    p.from === null ? -Infinity : toDayNumber(p.from),
    p.to === null ? Infinity : toDayNumber(p.to),
  ]);
  for (let day = first; day <= last; day++) {
    const whole = asked.every(([from, to], i) => day < from! || day > to! || has[i]![day - first] === 1);
    if (whole) days.push(day);
  }
  return coverageOf(days);
}

/** A feed that a figure is without, in some of its days. */
export interface FeedLack {
  feed: string;
  /** Known from this day on, or up to that one. */
  since?: CivilDate;
  until?: CivilDate;
}

/** How many of the days of its feeds a range has, how many were delivered, and which feeds have not begun or no longer come. */
export function feedDays(
  parts: readonly FeedPart[],
  range: CountedRange,
): { asked: number; delivered: number; lacking: FeedLack[] } {
  let [asked, delivered] = [0, 0];
  const lacking: FeedLack[] = [];
  for (const part of parts) {
    const own = askedOf(part, range);
    if (!own) continue;
    asked += countedDays(own);
    delivered += coveredDays(part.covered, own);
    if (own.from < part.firstDay) lacking.push({ feed: part.feed, since: part.firstDay });
    else if (part.lastDay !== null && own.to > part.lastDay) lacking.push({ feed: part.feed, until: part.lastDay });
  }
  return { asked, delivered, lacking };
}

/** The days of a range that should have been delivered and were not: none of before a feed began, or after it ended. */
export function undelivered(
  { covered, firstDay, parts }: DatasetShape & { covered: Coverage },
  range: CountedRange,
): Range[] {
  if (!parts) return missingDays(covered, range, firstDay);
  return parts.flatMap((part) => {
    const own = askedOf(part, range);
    const to = own && (part.lastDay === null ? own.to : minDate(own.to, part.lastDay));
    return own && to! >= own.from
      ? missingDays(part.covered, partOf(own, { from: own.from, to: to! }), part.firstDay)
      : [];
  });
}

/** A dataset as it is known of the feeds that a filter keeps; the same one where it keeps them all. */
export function ofFeeds(dataset: Dataset, filter: Filter): Dataset {
  const wanted = filter[FEED];
  if (!dataset.parts || !wanted) return dataset;
  const keeps = keeperOf(wanted);
  const parts = dataset.parts.filter((p) => keeps(p.feed));
  if (parts.length === 0 || parts.length === dataset.parts.length) return dataset;
  const first = parts.map((p) => p.firstDay).reduce(minDate);
  if (parts.length > 1) return { ...dataset, firstDay: first, parts, covered: wholeCoverage(parts) };
  const { parts: _, ...rest } = dataset;
  return { ...rest, firstDay: first, covered: parts[0]!.covered };
}
